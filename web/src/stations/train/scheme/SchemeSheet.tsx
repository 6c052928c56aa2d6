import { Box, Flex, Text } from "@chakra-ui/react";

import { useOrderClasses } from "../../../api/queries/scheme";
import { useClasses, useSites } from "../../../api/queries/training";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { useView } from "../../../shared/viewStore";
import { AddClass } from "../AddClass";
import { SchemeRow } from "./SchemeRow";
import { SchemeSources } from "./SchemeSources";
import { useDragOrder } from "./useDragOrder";

/** All classes of the study: order, codes, names, colours, what belongs to what. */
export function SchemeSheet({ onClose }: { readonly onClose: () => void }) {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: classes = [] } = useClasses(studyId);
  const { data: sites = [] } = useSites(studyId, sceneId);
  const order = useOrderClasses(studyId);
  const ids = classes.map(({ id }) => id);
  const move = (from: number, to: number) => {
    const next = [...ids];
    const [moved] = next.splice(from, 1);
    if (moved === undefined || to < 0 || to > next.length) return;
    next.splice(to, 0, moved);
    order.mutate(next);
  };
  const drag = useDragOrder(move);
  return (
    <SheetFrame
      title="Class scheme"
      purpose="One scheme from the first site to the delivered map. Every change can be undone."
      onClose={onClose}
      action={<SchemeSources classes={classes} />}
    >
      <Box role="list" aria-label="Classes" maxW="60rem">
        <Flex gap="2" px="1" color="quiet" fontSize="0.92rem">
          <Text width="4.6rem" flex="none">
            Order
          </Text>
          <Text width="5.4rem" flex="none">
            Code
          </Text>
          <Text width="3rem" flex="none">
            Colour
          </Text>
          <Text flex="1.2">Name</Text>
          <Text flex="2">What belongs to it</Text>
          <Text width="8.6rem" flex="none">
            Reported under
          </Text>
          <Text width="2.4rem" flex="none" textAlign="end">
            Sites
          </Text>
          <Text width="9rem" flex="none" />
        </Flex>
        {classes.map((row, i) => (
          <SchemeRow
            key={row.id}
            row={row}
            classes={classes}
            nSites={sites.filter((site) => site.class_id === row.id).length}
            place={i}
            drag={drag(i)}
            onMove={(by) => move(i, i + by)}
          />
        ))}
      </Box>
      {classes.length === 0 && (
        <Text color="quiet" mb="2">
          No class yet. Name the first cover you want to map, or take over a scheme.
        </Text>
      )}
      <Box maxW="24rem" mt="2">
        <AddClass />
      </Box>
    </SheetFrame>
  );
}
