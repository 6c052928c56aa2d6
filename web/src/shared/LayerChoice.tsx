import { NativeSelect } from "@chakra-ui/react";

import type { Layer } from "../api/types";
import { useViewStore } from "./viewStore";

interface Props {
  readonly layers: readonly Layer[];
  readonly layer: Layer;
}

/** Choose one of the kept class maps; it is shown in the right pane. */
export function LayerChoice({ layers, layer }: Props) {
  const setPane = useViewStore((store) => store.setPane);
  return (
    <NativeSelect.Root size="sm" bg="card">
      <NativeSelect.Field
        aria-label="Class map"
        value={layer.id}
        onChange={(event) =>
          setPane(1, { kind: "layer", layerId: Number(event.currentTarget.value) })
        }
      >
        {layers.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
