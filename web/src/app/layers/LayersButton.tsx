import { Button } from "@chakra-ui/react";
import { Layers } from "lucide-react";

import { useWork } from "../../shared/workStore";

/** Opens the list of layers in the place of the station's card. */
export function LayersButton() {
  const layersOpen = useWork((store) => store.layersOpen);
  const set = useWork((store) => store.set);
  return (
    <Button
      size="xs"
      variant="ghost"
      aria-pressed={layersOpen}
      bg={layersOpen ? "coolTint" : "transparent"}
      title="All layers (L)"
      onClick={() => set({ layersOpen: !layersOpen })}
    >
      <Layers /> Layers
    </Button>
  );
}
