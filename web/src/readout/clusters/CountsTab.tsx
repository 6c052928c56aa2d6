import { Box, Flex, Text } from "@chakra-ui/react";
import { Suspense, useState } from "react";

import { useClusterings, useTryCounts } from "../../api/queries/clusters";
import { useRuns } from "../../api/queries/runs";
import type { Run } from "../../api/types";
import { ALL, CurveChart, type Ranges } from "../../charts";
import { NumberField } from "../../shared/NumberField";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useClusterOrder } from "../../shared/useClusters";
import { useView, useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { ControlColumn } from "../ControlColumn";

const MOST = 60;
type Row = Run["counts"][number];
const MEASURES: Record<string, { title: string; of: (row: Row) => number | null }> = {
  ratio: { title: "variance ratio", of: (row) => row.ratio },
  explained: { title: "variance explained, %", of: (row) => 100 * row.explained },
  criterion: { title: "information criterion", of: (row) => row.criterion },
};

/** A range of numbers of clusters tried in one run, and which of them is suggested. */
export function CountsTab() {
  const studyId = useStudyId();
  const { data: runs = [] } = useRuns(studyId);
  const run = runs.find(({ kind, counts }) => kind === "count-clusters" && counts.length > 0);
  const [measure, setMeasure] = useState("ratio");
  return (
    <Flex flex="1" minH="0" gap="2" role="tabpanel" aria-label="How many">
      <ControlColumn>
        <CountsForm />
        {run && (
          <Select
            label="Measure"
            hideLabel
            value={measure}
            options={Object.entries(MEASURES).map(([value, { title }]) => ({
              value,
              label: title,
            }))}
            onValue={setMeasure}
          />
        )}
      </ControlColumn>
      {run ? (
        <Counts run={run} measure={measure} />
      ) : (
        <Text color="quiet" p="2">
          Try a range, and how well each number of clusters fits stands here.
        </Text>
      )}
    </Flex>
  );
}

function CountsForm() {
  const order = useClusterOrder();
  const { data: methods = [] } = useClusterings();
  const start = useTryCounts(useStudyId());
  const [[fewest, most], setRange] = useState<[number, number]>([2, 12]);
  const counted = methods.find(({ id }) => id === order.method)?.counted ?? false;
  const isCount = (n: number) => Number.isInteger(n) && n >= 2 && n <= MOST;
  if (!counted) {
    return <Text color="quiet">The method in hand finds the number itself.</Text>;
  }
  return (
    <>
      <Flex gap="1.5" align="center">
        <NumberField
          label="Fewest clusters"
          value={fewest}
          width="3.4rem"
          isGood={isCount}
          onNumber={(n) => setRange([n, most])}
        />
        to
        <NumberField
          label="Most clusters"
          value={most}
          width="3.4rem"
          isGood={isCount}
          onNumber={(n) => setRange([fewest, n])}
        />
      </Flex>
      <Quiet
        type="button"
        minH="24px"
        alignSelf="flex-start"
        disabled={start.isPending}
        onClick={() => start.mutate({ ...order, fewest, most })}
      >
        Try these
      </Quiet>
    </>
  );
}

function Counts({ run, measure }: { readonly run: Run; readonly measure: string }) {
  const [ranges, setRanges] = useState<Ranges>(ALL);
  const { clustering } = useView("clustering");
  const choose = useChooseCount();
  const { title, of } = MEASURES[measure] ?? { title: "", of: () => null };
  const curve = {
    name: title,
    colour: null,
    points: run.counts.map((row): [number, number | null] => [row.n_clusters, of(row)]),
  };
  return (
    <Flex flex="1" minW="0" direction="column">
      <Box flex="1" minH="0">
        <Suspense fallback={null}>
          <CurveChart
            curves={[curve]}
            uprights={run.suggested === null ? [] : [run.suggested]}
            xAxis={{ title: "clusters", whole: true }}
            yAxis={{ title }}
            title=""
            ranges={ranges}
            onRanges={setRanges}
            onReady={() => undefined}
            onPick={(x) => choose(Math.round(x))}
            label={`${title} by number of clusters`}
          />
        </Suspense>
      </Box>
      <Flex px="1" pb="1" gap="1" wrap="wrap" align="center">
        <Text me="2">{run.reason ?? "Being tried …"}</Text>
        {run.counts.map(({ n_clusters: n }) => (
          <Toggle
            key={n}
            label={String(n)}
            aria-label={`${n} clusters on the map`}
            on={clustering.settings["n_clusters"] === n}
            onClick={() => choose(n)}
          />
        ))}
      </Flex>
    </Flex>
  );
}

/** That many clusters are found and shown at once. */
function useChooseCount() {
  const { clustering } = useView("clustering");
  const { change, setPane } = useViewStore.getState();
  const set = useWork((store) => store.set);
  return (n: number) => {
    const settings = { ...clustering.settings, n_clusters: n };
    change({ clustering: { ...clustering, settings } });
    setPane(1, { kind: "clusters" });
    set({ clusterMap: "new", cluster: null });
  };
}
