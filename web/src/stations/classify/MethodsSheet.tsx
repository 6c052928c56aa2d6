import { Box, Flex, Text } from "@chakra-ui/react";

import { useClassifiers, useRuns } from "../../api/queries/runs";
import { useClasses } from "../../api/queries/training";
import type { Classifier, LandClass, MethodRow } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatPercent, formatSize } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { SheetFrame } from "../../shared/SheetFrame";
import { useStudyId } from "../../shared/study";
import { useView, useViewStore } from "../../shared/viewStore";
import { limitsWords, secondsWords } from "./limits";
import { Trial } from "./Trial";
import { bestFirst, newestOf } from "./trialRows";

type Tried = NonNullable<MethodRow["tried"]>;

const PURPOSE =
  "Each method is trained on the sites as they are, five times without a fifth of the sites, and told those. The shares are of the sites, not of the ground: the map is judged in Check.";
const COLUMNS = [
  { head: "Method" },
  { head: "told right", end: true },
  { head: "from – to", end: true },
  { head: "told worst" },
  { head: "to train", end: true },
  { head: "the scene", end: true },
  { head: "size", end: true },
  { head: "" },
];

/** All methods on the same sites, the best first; one is chosen from the table. */
export function MethodsSheet({ onClose }: { readonly onClose: () => void }) {
  const studyId = useStudyId();
  const { method, panes } = useView("method", "panes");
  const { change, setPane } = useViewStore.getState();
  const { data: runs } = useRuns(studyId);
  const { data: methods = [] } = useClassifiers();
  const { data: classes = [] } = useClasses(studyId);
  const run = newestOf(runs, "try-methods");
  const rows = bestFirst(run?.methods ?? []);
  const choose = (id: string) => {
    change({
      method: { id, settings: id === method.id ? method.settings : {}, seed: method.seed },
    });
    if (!panes.some((pane) => pane.kind === "live" && !pane.method)) setPane(1, { kind: "live" });
    onClose();
  };
  const compare = (id: string) => {
    const other = { id, settings: {}, seed: method.seed };
    change({
      count: 4,
      panes: [
        panes[0],
        { kind: "live" },
        { kind: "live", method: other },
        { kind: "live", method: other, lit: true },
      ],
    });
    onClose();
  };
  return (
    <SheetFrame title="All methods on these sites" purpose={PURPOSE} onClose={onClose}>
      <Trial what="methods" run={run} label="Try them all" />
      {rows.length === 0 ? (
        <Text color="quiet" mt="3" maxW="36rem">
          Rows come as methods are done, the quick ones first. Each is tried with its usual
          settings, the one in hand with yours.
        </Text>
      ) : (
        <Box mt="3" maxW="64rem">
          <DataTable
            label="Methods tried"
            columns={COLUMNS}
            rows={rows.map((row) => ({
              key: row.method,
              pale: row.tried === null,
              cells: cellsOf(row, methods, classes, method.id, { choose, compare }),
            }))}
          />
        </Box>
      )}
    </SheetFrame>
  );
}

interface Acts {
  readonly choose: (id: string) => void;
  readonly compare: (id: string) => void;
}

function cellsOf(
  row: MethodRow,
  methods: readonly Classifier[],
  classes: readonly LandClass[],
  inHand: string,
  acts: Acts,
) {
  const method = methods.find(({ id }) => id === row.method);
  const name = (
    <Text as="span" fontWeight={row.method === inHand ? "650" : undefined} title={method?.good_for}>
      {method?.title ?? row.method}
      {row.method === inHand && ", in hand"}
    </Text>
  );
  const { tried } = row;
  if (tried === null) {
    return [name, "–", "", <Text key="problem">{row.problem}</Text>, "", "", "", ""];
  }
  return [
    name,
    formatPercent(tried.right.mean, 1),
    limitsWords(tried.right),
    weakestWords(tried, classes),
    secondsWords(tried.train_seconds),
    secondsWords(tried.scene_seconds),
    formatSize(tried.n_bytes),
    <Flex key="acts" gap="3" justify="end">
      {row.method !== inHand && (
        <Quiet
          type="button"
          minH="24px"
          title="Its map beside that of the method in hand, and where they differ"
          aria-label={`Beside the method in hand: ${method?.title ?? row.method}`}
          onClick={() => acts.compare(row.method)}
        >
          Beside
        </Quiet>
      )}
      <Quiet
        type="button"
        minH="24px"
        aria-label={`Choose ${method?.title ?? row.method}`}
        onClick={() => acts.choose(row.method)}
      >
        Choose
      </Quiet>
    </Flex>,
  ];
}

function weakestWords({ weakest, weakest_code }: Tried, classes: readonly LandClass[]): string {
  const name = classes.find(({ code }) => code === weakest_code)?.name;
  return name === undefined || weakest === null ? "–" : `${name}, ${formatPercent(weakest, 0)}`;
}
