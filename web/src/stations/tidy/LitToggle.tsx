import { Flex } from "@chakra-ui/react";

import { Toggle } from "../../shared/Toggle";
import { useView, useViewStore } from "../../shared/viewStore";

/** Only what the steps change is lit in the right pane; the rest lies under a veil. */
export function LitToggle() {
  const { panes } = useView("panes");
  const setPane = useViewStore((store) => store.setPane);
  const [, show] = panes;
  if (show.kind !== "tidied") return null;
  const { kind, layerId, steps, lit } = show;
  const turn = () => setPane(1, { kind, layerId, steps, ...(lit ? {} : { lit: true as const }) });
  return (
    <Flex mt="1">
      <Toggle label="Light what changes" on={lit === true} onClick={turn} />
    </Flex>
  );
}
