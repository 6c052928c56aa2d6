import { Box, Flex } from "@chakra-ui/react";
import { useMemo, useRef } from "react";

import { useSites } from "../../api/queries/training";
import type { Site } from "../../api/types";
import { Part } from "../../shared/Part";
import { plural } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { useActiveClass } from "../../shared/usePick";
import { useRowWindow } from "../../shared/useRowWindow";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { SiteEntry } from "./SiteEntry";

const SHRINKS = { display: "flex", flexDirection: "column", minHeight: 0 } as const;

/** The sites of the class in hand; a click goes there. Where the card is full, this list gives way:
 *  it scrolls by itself, the advice below does not. */
export function SiteList() {
  const { sceneId } = useView("sceneId");
  const { data: sites } = useSites(useStudyId(), sceneId);
  const active = useActiveClass();
  const classId = active?.id;
  const mine = useMemo(
    () => (sites ?? []).filter((site) => site.class_id === classId),
    [sites, classId],
  );
  if (!active) return null;
  return (
    <Flex direction="column" minH="4.6rem" maxH="16rem" css={{ "& > section": SHRINKS }}>
      <Part title={`Sites of ${active.name}`} aside={plural(mine.length, "site")}>
        <Entries sites={mine} />
      </Part>
    </Flex>
  );
}

const ENTRY_HEIGHT = 24;

/** Of thousands those that are seen are drawn. */
function Entries({ sites }: { readonly sites: readonly Site[] }) {
  const frame = useRef<HTMLDivElement>(null);
  const siteKey = useWork((store) => store.siteKey);
  const drawn = useRowWindow({
    frame,
    count: sites.length,
    height: ENTRY_HEIGHT,
    keyOf: (i) => sites[i]?.id ?? i,
    chosen: siteKey === null ? -1 : sites.findIndex(({ id }) => String(id) === siteKey),
  });
  return (
    <Box ref={frame} overflowY="auto" role="list" onKeyDown={drawn.onKeyDown}>
      <div role="presentation" style={{ height: drawn.before }} />
      {drawn.items.map(({ index, key }) => {
        const site = sites[index];
        return (
          site && (
            <Box
              key={key}
              ref={drawn.measure}
              data-index={index}
              role="listitem"
              aria-posinset={index + 1}
              aria-setsize={sites.length}
            >
              <SiteEntry site={site} number={index + 1} />
            </Box>
          )
        );
      })}
      <div role="presentation" style={{ height: drawn.after }} />
    </Box>
  );
}
