import { NativeSelect } from "@chakra-ui/react";

import type { ClassMap } from "../api/types";
import { useViewStore } from "./viewStore";

interface Props {
  readonly maps: readonly ClassMap[];
  readonly map: ClassMap;
}

/** Choose one of the kept class maps; it is shown in the right pane. */
export function MapChoice({ maps, map }: Props) {
  const setPane = useViewStore((store) => store.setPane);
  return (
    <NativeSelect.Root size="sm" bg="card">
      <NativeSelect.Field
        aria-label="Class map"
        value={map.id}
        onChange={(event) =>
          setPane(1, { kind: "map", layerId: Number(event.currentTarget.value) })
        }
      >
        {maps.map(({ id, title }) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
