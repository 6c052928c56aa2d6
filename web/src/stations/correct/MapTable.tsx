import { Checkbox, Flex } from "@chakra-ui/react";

import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { useViewStore } from "../../shared/viewStore";
import { useChain } from "./chainStore";
import { useChosenMaps } from "./useChosenScenes";

/** Class maps can be cropped, masked, moved and brought onto another grid, too. */
export function MapTable() {
  const { maps, chosenMaps } = useChosenMaps();
  const { layerIds, toggle } = useChain();
  const setPane = useViewStore((store) => store.setPane);
  if (maps.length === 0) return null;
  return (
    <Part title="Class maps" aside={chosenMaps.length > 0 ? `${chosenMaps.length} chosen` : ""}>
      {maps.map(({ id, title }) => (
        <Flex key={id} py="1" gap="2" align="flex-start" borderBottomWidth="1px" borderColor="line">
          <Checkbox.Root
            size="sm"
            flex="1"
            alignItems="flex-start"
            checked={layerIds.includes(id)}
            onCheckedChange={() => toggle(id)}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control mt="0.5" />
            <Checkbox.Label fontSize="1rem" fontWeight="500" overflowWrap="anywhere">
              {title}
            </Checkbox.Label>
          </Checkbox.Root>
          <Quiet
            type="button"
            aria-label={`Show ${title} on the right`}
            onClick={() => setPane(1, { kind: "map", layerId: id })}
          >
            right
          </Quiet>
        </Flex>
      ))}
    </Part>
  );
}
