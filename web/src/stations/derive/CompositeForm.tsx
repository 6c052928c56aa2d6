import { Box } from "@chakra-ui/react";

import { Select } from "../../shared/Select";
import { useDeriveStore } from "./deriveStore";
import { useLayerOptions } from "./useLayerOptions";

const CHANNELS = ["Red", "Green", "Blue"] as const;

interface Channel {
  scene_id: number;
  role: string;
}

/** Three layers, each to a channel of the screen. */
export function CompositeForm() {
  const options = useLayerOptions();
  const { values, setValues } = useDeriveStore();
  const chosen = (values.composite?.["channels"] ?? []) as (Channel | undefined)[];
  const pick = (i: number, key: string) => {
    const option = options.find((one) => one.value === key);
    const next = CHANNELS.map((_, at) => (at === i ? undefined : chosen[at]));
    if (option) next[i] = { scene_id: option.sceneId, role: option.role };
    const members = next.filter((one) => one !== undefined);
    setValues("composite", { channels: next, members });
  };
  return CHANNELS.map((channel, i) => {
    const now = chosen[i];
    return (
      <Box key={channel} mt="2">
        <Select
          label={channel}
          value={now ? `${now.scene_id}:${now.role}` : ""}
          options={[{ value: "", label: "choose a layer" }, ...options]}
          onValue={(key) => pick(i, key)}
        />
      </Box>
    );
  });
}
