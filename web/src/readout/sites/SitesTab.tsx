import { Flex, Text } from "@chakra-ui/react";
import { useCallback, useMemo, useState } from "react";

import { useJudgement } from "../../api/queries/judging";
import { useClasses, useSites } from "../../api/queries/training";
import type { LandClass, Site } from "../../api/types";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { saveFile } from "../../shared/saveFile";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useActiveClass } from "../../shared/usePick";
import { useView } from "../../shared/viewStore";
import { ManyActs } from "./ManyActs";
import { OtherDate } from "./OtherDate";
import { type SiteRow, siteRows, sorted, type SortKey } from "./rows";
import { SiteTable } from "./SiteTable";
import { changedIds, useThere } from "./there";
import { sitesCsv } from "./sitesCsv";
import { useBoxMark } from "./useBoxMark";
import { ControlColumn } from "../ControlColumn";

const ORDERS: { value: SortKey; label: string }[] = [
  { value: "doubt", label: "In doubt first" },
  { value: "title", label: "By class" },
  { value: "pixels", label: "Fewest pixels first" },
  { value: "spread", label: "Widest spread first" },
  { value: "oddness", label: "Oddest first" },
  { value: "like", label: "Most like others first" },
];

const NO_SITES: Site[] = [];
const NO_CLASSES: LandClass[] = [];

/** All training sites with what their pixels say of them; a row leads to its site. */
export function SitesTab() {
  const studyId = useStudyId();
  const view = useView("sceneId", "roles");
  const { data: sites = NO_SITES } = useSites(studyId, view.sceneId);
  const { data: classes = NO_CLASSES } = useClasses(studyId);
  const { data: judgement } = useJudgement(studyId, view);
  const [by, setBy] = useState<SortKey>("doubt");
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const [others, setOthers] = useState<readonly number[]>([]);
  const there = useThere(others);
  const judged = judgement?.sites;
  const rows = useMemo(
    () => sorted(siteRows(sites, classes, judged ?? [], there), by),
    [sites, classes, judged, there, by],
  );
  const active = useActiveClass();
  const chosen = sites.filter(({ id }) => marked.has(id));
  const markMore = useCallback(
    (ids: number[]) => setMarked((now) => new Set([...now, ...ids])),
    [],
  );
  const box = useBoxMark(sites, markMore);
  if (rows.length === 0) {
    return (
      <Text color="quiet" p="4">
        No training site yet. Pick a class and draw one.
      </Text>
    );
  }
  return (
    <Flex flex="1" minH="0" role="tabpanel" aria-label="Sites">
      <ControlColumn>
        <Select
          label="Order"
          hideLabel
          value={by}
          options={ORDERS}
          onValue={(value) => setBy(value as SortKey)}
        />
        <Flex gap="3" wrap="wrap">
          <Quiet
            type="button"
            aria-pressed={box.waiting}
            title="Drag a box over a pane: the sites in it are marked"
            onClick={box.turn}
          >
            {box.waiting ? "Drag a box …" : "Mark in a box"}
          </Quiet>
          <Quiet
            type="button"
            onClick={() =>
              setMarked(chosen.length > 0 ? new Set() : new Set(rows.map(({ site }) => site.id)))
            }
          >
            {chosen.length > 0 ? "Mark none" : "Mark all"}
          </Quiet>
          {active && chosen.length === 0 && (
            <Quiet
              type="button"
              title={`Mark all sites of ${active.name}`}
              onClick={() => setMarked(new Set(ofClass(rows, active.id)))}
            >
              Mark class
            </Quiet>
          )}
          <Quiet
            type="button"
            onClick={() => saveFile("sites.csv", sitesCsv(rows, there, view.roles))}
          >
            CSV
          </Quiet>
        </Flex>
        <OtherDate
          there={there}
          onOthers={setOthers}
          onMarkChanged={(one) => setMarked(new Set(changedIds(one)))}
        />
        {chosen.length > 0 ? (
          <>
            <Text fontWeight="650">{plural(chosen.length, "site")} marked</Text>
            <ManyActs chosen={chosen} classes={classes} onDone={() => setMarked(new Set())} />
          </>
        ) : (
          <Text color="quiet" lineHeight="1.3">
            Mark sites to change many at once.
          </Text>
        )}
      </ControlColumn>
      <SiteTable
        rows={rows}
        others={there.map(({ title }) => title)}
        marked={marked}
        onMark={(id, on) => {
          const next = new Set(marked);
          if (on) next.add(id);
          else next.delete(id);
          setMarked(next);
        }}
      />
    </Flex>
  );
}

function ofClass(rows: readonly SiteRow[], classId: number): number[] {
  return rows.filter(({ row }) => row.id === classId).map(({ site }) => site.id);
}
