import { Text } from "@chakra-ui/react";

import type { Tidied } from "../../api/types";
import { ClassTable } from "../../shared/ClassTable";
import { formatCount, formatPercent } from "../../shared/format";
import { Part } from "../../shared/Part";
import { Remark } from "../../shared/Remark";
import { Folded } from "../../shared/Folded";

const MUCH = 0.1;

/** What the steps would change, class by class, and what to look at before they are kept. */
export function Changes({ found }: { readonly found: Tidied }) {
  if (found.problem !== null) return <Remark tone="problem">{found.problem}</Remark>;
  const losers = found.classes.filter(({ before, after }) => before - after > MUCH * before);
  return (
    <Part title="What changes" aside={`${formatPercent(found.changed, 1)} of the pixels`}>
      {losers.length > 0 && (
        <Remark tone="caution">
          {losers
            .map(
              ({ name, before, after }) => `${name} loses ${formatPercent(1 - after / before, 0)}`,
            )
            .join(", ")}
          . Look at it beside the imagery before it is kept; creeks and hedges go first.
        </Remark>
      )}
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
          {found.exact ? "Of every pixel." : "Of pixels spread over the map."}
        </Text>
      </Folded>
    </Part>
  );
}

function changeWords({ before, after }: Tidied["classes"][number]): string {
  if (before === 0) return "new";
  const change = (after - before) / before;
  return `${change > 0 ? "+" : ""}${formatPercent(change, 1)}`;
}
