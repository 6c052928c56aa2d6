import { Text } from "@chakra-ui/react";

import type { Tidied } from "../../api/types";
import { ClassTable } from "../../shared/ClassTable";
import { Folded } from "../../shared/Folded";
import { formatCount, formatHectares, formatPercent, plural } from "../../shared/format";
import { Part } from "../../shared/Part";
import { Remark } from "../../shared/Remark";
import { changeWords, firstOf, isBroken, losses, rightWords } from "./changed";
import { FromTo } from "./FromTo";
import { LitToggle } from "./LitToggle";

/** What the steps would change, class by class, and what to look at before they are kept. */
export function Changes({ found }: { readonly found: Tidied }) {
  if (found.problem !== null) return <Remark tone="problem">{found.problem}</Remark>;
  const losers = losses(found.classes);
  const broken = found.classes.filter(isBroken);
  return (
    <Part title="What changes" aside={shareWords(found)}>
      {losers.length > 0 && (
        <Remark tone="caution">
          {firstOf(
            losers,
            ({ name, before, after }) => `${name} loses ${formatPercent(1 - after / before, 0)}`,
          )}
          . Look at it beside the imagery before it is kept; creeks and hedges go first.
        </Remark>
      )}
      {broken.length > 0 && (
        <Remark tone="caution">
          {firstOf(
            broken,
            ({ name, pieces_before, pieces_after }) =>
              `${name} falls from ${plural(pieces_before, "piece")} into ${formatCount(pieces_after)}`,
          )}
          : what hung together does not any more.
        </Remark>
      )}
      {found.right.n > 0 && <Text mt="1">{rightWords(found)}</Text>}
      {found.touched.map(({ step, words, n }) => (
        <Text key={`${step} ${words}`}>
          {words}: {plural(n, "pixel")}
        </Text>
      ))}
      <LitToggle />
      <Folded title="Class by class" mt="1">
        <ClassTable
          label="Pixels before and after"
          columns={["before", "after", "change"]}
          rows={found.classes.map((row) => ({
            ...row,
            cells: [formatCount(row.before), formatCount(row.after), changeWords(row)],
          }))}
        />
        <Text color="quiet" mt="1">
          {found.exact ? "Of every pixel." : "Of pixels in windows spread over the map."}
        </Text>
      </Folded>
      <Folded title="Pieces" mt="1">
        <ClassTable
          label="Pieces before and after"
          columns={["before", "after"]}
          rows={found.classes.map((row) => ({
            ...row,
            cells: [formatCount(row.pieces_before), formatCount(row.pieces_after)],
          }))}
        />
      </Folded>
      <FromTo found={found} />
    </Part>
  );
}

function shareWords({ changed, changed_ha }: Tidied): string {
  const share = `${formatPercent(changed, 1)} of the pixels`;
  return changed_ha === null ? share : `${share}, ${formatHectares(changed_ha)} ha`;
}
