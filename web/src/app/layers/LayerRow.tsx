import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { showExtent } from "../../map";
import { Quiet } from "../../shared/Quiet";
import { Toggle } from "../../shared/Toggle";
import type { LayerEntry } from "../../shared/useLayerList";
import { PANES } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { LayerActs } from "./LayerActs";

interface Props {
  readonly entry: LayerEntry;
  readonly group: string;
  /** Keys of all layers in the group, in order. */
  readonly siblings: readonly string[];
}

/** One layer: in which panes it is seen, and what can be done with it. */
export function LayerRow({ entry, group, siblings }: Props) {
  const { panes, count } = useView("panes", "count");
  const setPane = useViewStore((store) => store.setPane);
  const linked = useWork((store) => store.linked);
  const [open, setOpen] = useState(false);
  return (
    <Box py="1.5" borderBottomWidth="1px" borderColor="line" opacity={entry.hidden ? 0.65 : 1}>
      <Flex gap="1.5" align="center">
        <Box flex="1" minW="0">
          <Text truncate title={entry.title}>
            {entry.title}
          </Text>
        </Box>
        {PANES.slice(0, count).map((index) => (
          <Toggle
            key={index}
            label={String(index + 1)}
            aria-label={`${entry.title} in pane ${index + 1}`}
            title={`Show in pane ${index + 1}`}
            minW="1.6rem"
            height="1.5rem"
            px="1"
            on={entry.isShownBy(panes[index])}
            onClick={() => setPane(index, entry.show(panes[index]))}
          />
        ))}
        <Quiet
          type="button"
          aria-expanded={open}
          aria-label={`More about ${entry.title}`}
          onClick={() => setOpen(!open)}
        >
          {open ? "Less" : "More"}
        </Quiet>
      </Flex>
      {open && (
        <>
          {entry.note !== undefined && <Text color="quiet">{entry.note}</Text>}
          {entry.scene && <Text color="quiet">{entry.scene.sentence}</Text>}
          {entry.map && <Text color="quiet">{entry.map.sentence}</Text>}
          {entry.grid && linked && (
            <Quiet
              type="button"
              onClick={() => showExtent(linked, entry.grid?.extent ?? linked.grid.extent)}
            >
              Zoom to it
            </Quiet>
          )}
          <LayerActs entry={entry} group={group} siblings={siblings} />
        </>
      )}
    </Box>
  );
}
