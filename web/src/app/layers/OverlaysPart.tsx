import { Flex } from "@chakra-ui/react";

import { Part } from "../../shared/Part";
import { Toggle } from "../../shared/Toggle";
import { useOverlay } from "../../shared/useOverlay";
import type { Overlay } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";

const NAMES: [Overlay, string][] = [
  ["sites", "Training sites"],
  ["points", "Reference points"],
  ["areas", "Areas and boundaries"],
  ["notes", "Notes"],
  ["pins", "Pins"],
];

/** What is drawn over the layers; unasked, the station decides. */
export function OverlaysPart() {
  return (
    <Part title="Drawn over them">
      <Flex gap="1.5" wrap="wrap">
        {NAMES.map(([kind, name]) => (
          <OverlayToggle key={kind} kind={kind} name={name} />
        ))}
      </Flex>
    </Part>
  );
}

function OverlayToggle({ kind, name }: { readonly kind: Overlay; readonly name: string }) {
  const on = useOverlay(kind);
  const { overlays } = useView("overlays");
  const change = useViewStore((store) => store.change);
  return (
    <Toggle
      label={name}
      on={on}
      onClick={() => change({ overlays: { ...overlays, [kind]: !on } })}
    />
  );
}
