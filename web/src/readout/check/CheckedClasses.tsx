import { Box, Text } from "@chakra-ui/react";

import type { FirstCheck, LandClass } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatPercent } from "../../shared/format";
import { Swatch } from "../../shared/Swatch";

interface Props {
  readonly data: FirstCheck;
  readonly classes: readonly LandClass[];
}

/** The classes, worst first: told back, by folds of whole sites, and set aside. */
export function CheckedClasses({ data, classes }: Props) {
  const { overall, n_folds, aside } = data;
  const rows = data.classes
    .map((one, i) => ({ ...one, aside: shareRight(aside?.counts[i], i) }))
    .toSorted((a, b) => (a.folds.mean ?? 2) - (b.folds.mean ?? 2));
  const percent = (share: number | null) => (share === null ? "–" : formatPercent(share, 0));
  return (
    <Box flex="1" minW={aside ? "26rem" : "22rem"}>
      <DataTable
        label="Training pixels told right"
        columns={[
          { head: "Told right" },
          { head: "back", end: true },
          { head: "by folds", end: true },
          { head: "from – to", end: true },
          ...(aside ? [{ head: "set aside", end: true }] : []),
        ]}
        rows={[
          ...rows.map(({ code, back, folds, tested, aside: shareAside }) => {
            const row = classes.find((one) => one.code === code);
            return {
              key: code,
              cells: [
                <span key="name">
                  <Swatch colour={row?.colour ?? ""} /> {row?.name}
                </span>,
                percent(back),
                tested ? percent(folds.mean) : "not tested",
                folds.low === null || folds.high === null
                  ? "–"
                  : `${formatPercent(folds.low, 0)} – ${formatPercent(folds.high, 0)}`,
                ...(aside ? [percent(shareAside)] : []),
              ],
            };
          }),
        ]}
      />
      <Text color="quiet" mt="1" px="1.5" lineHeight="1.35">
        {overall.mean !== null &&
          `${percent(overall.mean)} on average over the classes, in ${n_folds} folds of whole sites. `}
        Of the sites, not of the ground: the map is judged by reference points, in Check.
      </Text>
    </Box>
  );
}

function shareRight(counts: readonly number[] | undefined, place: number): number | null {
  const all = counts?.reduce((sum, n) => sum + n, 0) ?? 0;
  return all > 0 ? (counts?.[place] ?? 0) / all : null;
}
