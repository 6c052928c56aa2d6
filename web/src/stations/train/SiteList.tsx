import { Box, Flex } from "@chakra-ui/react";

import { useSites } from "../../api/queries/training";
import { Part } from "../../shared/Part";
import { plural } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { useActiveClass } from "../../shared/usePick";
import { useView } from "../../shared/viewStore";
import { SiteEntry } from "./SiteEntry";

const SHRINKS = { display: "flex", flexDirection: "column", minHeight: 0 } as const;

/** The sites of the class in hand; a click goes there. Where the card is full, this list gives way:
 *  it scrolls by itself, the advice below does not. */
export function SiteList() {
  const { sceneId } = useView();
  const { data: sites = [] } = useSites(useStudyId(), sceneId);
  const active = useActiveClass();
  if (!active) return null;
  const mine = sites.filter((site) => site.class_id === active.id);
  return (
    <Flex direction="column" minH="4.6rem" maxH="16rem" css={{ "& > section": SHRINKS }}>
      <Part title={`Sites of ${active.name}`} aside={plural(mine.length, "site")}>
        <Box overflowY="auto" role="list">
          {mine.map((site, i) => (
            <SiteEntry key={site.id} site={site} number={i + 1} />
          ))}
        </Box>
      </Part>
    </Flex>
  );
}
