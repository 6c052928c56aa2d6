import { Box, Flex, Text } from "@chakra-ui/react";

import type { Scene } from "../api/types";
import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { Select } from "../shared/Select";
import {
  type PaletteShow,
  type PaneIndex,
  rolesOf,
  type SceneShow,
  type Stretch,
} from "../shared/view";
import { shownRoles } from "./stretchOrder";
import { useChangeShow } from "./useChangeShow";

interface Props {
  readonly index: PaneIndex;
  readonly show: SceneShow;
  readonly scene: Scene;
}

const CHANNELS = ["Red", "Green", "Blue"] as const;
const GREY: PaletteShow = { id: "grey", reverse: false, steps: null };

/** The handle that changes which bands are seen: three as red, green and blue, or a single one. */
export function CompositeChoice({ index, show, scene }: Props) {
  const { change } = useChangeShow(index, show);
  const compose = (roles: SceneShow["roles"]) =>
    change({ roles, palette: null, stretch: freshStretch(show.stretch) });
  const single = (role: string) =>
    change({
      roles: [role, show.roles[1], show.roles[2]],
      palette: show.palette ?? GREY,
      stretch: freshStretch(show.stretch),
    });
  const now = shownRoles(show).join();
  const options = scene.bands.map(({ role }) => ({ value: role, label: role }));
  return (
    <Handle text={shownRoles(show).join(", ")} label="Change the bands that are shown">
      {(close) => (
        <>
          {scene.composites.map((composite) => (
            <Choice
              key={composite.id}
              title={`${composite.title}: ${rolesOf(composite).join(", ")}`}
              note={composite.key}
              chosen={rolesOf(composite).join() === now}
              onChoose={() => {
                compose(rolesOf(composite));
                close();
              }}
            />
          ))}
          <Box px="2" pt="2">
            <Text color="quiet" fontSize="0.92em" mb="1">
              Any three bands
            </Text>
            <Flex gap="2">
              {CHANNELS.map((channel, i) => (
                <Select
                  key={channel}
                  label={`Band shown as ${channel.toLowerCase()}`}
                  hideLabel
                  value={show.roles[i] ?? ""}
                  options={options}
                  onValue={(role) => {
                    const roles: SceneShow["roles"] = [...show.roles];
                    roles[i] = role;
                    compose(roles);
                  }}
                />
              ))}
            </Flex>
            <Text color="quiet" fontSize="0.92em" mt="2" mb="1">
              One band, in grey or a palette
            </Text>
            <Select
              label="Single band"
              hideLabel
              value={show.palette ? show.roles[0] : ""}
              options={[{ value: "", label: "choose a band" }, ...options]}
              onValue={(role) => role !== "" && single(role)}
            />
          </Box>
        </>
      )}
    </Handle>
  );
}

/** Set limits belong to the bands they were set for. */
function freshStretch(stretch: Stretch): Stretch {
  return stretch.kind === "typed" ? { ...stretch, kind: "percentile", limits: [] } : stretch;
}
