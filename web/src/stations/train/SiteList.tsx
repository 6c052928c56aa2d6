import { Box } from "@chakra-ui/react";

import { useSites } from "../../api/queries/training";
import { Part } from "../../shared/Part";
import { plural } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { useActiveClass } from "../../shared/usePick";
import { useView } from "../../shared/viewStore";
import { SiteEntry } from "./SiteEntry";

/** The sites of the class in hand; a click goes there. */
export function SiteList() {
  const { sceneId } = useView();
  const { data: sites = [] } = useSites(useStudyId(), sceneId);
  const active = useActiveClass();
  if (!active) return null;
  const mine = sites.filter((site) => site.class_id === active.id);
  return (
    <Part title={`Sites of ${active.name}`} aside={plural(mine.length, "site")}>
      <Box maxH="5.4rem" overflowY="auto" role="list">
        {mine.map((site, i) => (
          <SiteEntry key={site.id} site={site} number={i + 1} />
        ))}
      </Box>
    </Part>
  );
}
