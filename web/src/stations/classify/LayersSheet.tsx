import { Box, Checkbox, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useClassifiers, useRuns } from "../../api/queries/runs";
import type { LayerRow } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { plural } from "../../shared/format";
import { Primary } from "../../shared/Primary";
import { SheetFrame } from "../../shared/SheetFrame";
import { useStudyId } from "../../shared/study";
import { useView, useViewStore } from "../../shared/viewStore";
import { lossWords } from "./limits";
import { Trial } from "./Trial";
import { isAtWork, newestOf, notMissed } from "./trialRows";

const PURPOSE =
  "What would be lost of the share told right, in percentage points over five folds of whole sites: with the layer’s values shuffled, and without the layer. Two layers that say the same lose by the first and not by the second.";
const COLUMNS = [
  { head: "Leave out" },
  { head: "Layer" },
  { head: "lost when shuffled (from, to)", end: true },
  { head: "lost without it (from, to)", end: true },
];

/** What each layer that goes in is worth to the method in hand. */
export function LayersSheet({ onClose }: { readonly onClose: () => void }) {
  const studyId = useStudyId();
  const { roles, method } = useView("roles", "method");
  const change = useViewStore((store) => store.change);
  const { data: runs } = useRuns(studyId);
  const { data: methods = [] } = useClassifiers();
  const [out, setOut] = useState<readonly string[]>([]);
  const run = newestOf(runs, "try-layers");
  const rows = (run?.layers ?? []).filter(({ role }) => roles.includes(role));
  const [idle] = notMissed(rows);
  const title = methods.find(({ id }) => id === (run?.method ?? method.id))?.title;
  const left = out.filter((role) => roles.includes(role));
  const leaveOut = () => {
    change({ roles: roles.filter((role) => !left.includes(role)) });
    onClose();
  };
  return (
    <SheetFrame
      title="Which layers matter"
      purpose={PURPOSE}
      onClose={onClose}
      action={
        <Primary
          width="auto"
          size="sm"
          disabled={left.length === 0 || left.length === roles.length}
          onClick={leaveOut}
        >
          {left.length === 0 ? "Leave these out" : `Leave ${plural(left.length, "layer")} out`}
        </Primary>
      }
    >
      <Trial what="layers" run={run} label="Try each layer" />
      {rows.length > 0 && (
        <Box mt="3" maxW="48rem">
          <DataTable
            label={`Layers of ${title ?? "the method in hand"}`}
            columns={COLUMNS}
            rows={rows.map((row) => ({
              key: row.role,
              cells: [
                <Checkbox.Root
                  key="out"
                  size="sm"
                  checked={out.includes(row.role)}
                  onCheckedChange={({ checked }) =>
                    setOut(checked ? [...out, row.role] : out.filter((role) => role !== row.role))
                  }
                >
                  <Checkbox.HiddenInput aria-label={`Leave ${row.role} out`} />
                  <Checkbox.Control />
                </Checkbox.Root>,
                row.role,
                lossWords(row.shuffled),
                lossWords(row.left_out),
              ],
            }))}
          />
          <Text color="quiet" mt="2">
            {adviceWords(title, idle, isAtWork(run))}
          </Text>
        </Box>
      )}
    </SheetFrame>
  );
}

function adviceWords(title: string | undefined, idle: LayerRow | undefined, atWork: boolean) {
  const of = title === undefined ? "" : `By ${title.toLowerCase()}. `;
  if (atWork) return of;
  return idle
    ? `${of}Without ${idle.role} nothing is lost beyond doubt. Leave one out at a time: another may stand in for it only while it is there.`
    : `${of}Something is lost without any of them.`;
}
