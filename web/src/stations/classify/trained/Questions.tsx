import { Box, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../../api/problem";
import { useQuestions } from "../../../api/queries/trained";
import type { Trained, TreeLine } from "../../../api/types";
import { formatDigits, formatPercent } from "../../../shared/format";
import { Swatch } from "../../../shared/Swatch";

/** A decision tree: each question under the answer that leads to it. */
export function Questions({ one }: { readonly one: Trained }) {
  const { data, error } = useQuestions(one.id);
  if (error) return <Text color="quiet">{sentenceOf(error)}</Text>;
  return (
    <Box as="ol" mt="2" maxH="24rem" overflowY="auto" tabIndex={0} aria-label="Questions">
      {data?.map((line, i) => (
        <Box as="li" key={i} listStyleType="none" ps={`${1.4 * line.depth}rem`} lineHeight="1.5">
          {line.branch !== null && <b>{line.branch ? "yes: " : "no: "}</b>}
          <Line line={line} classes={one.classes} />
        </Box>
      ))}
    </Box>
  );
}

interface LineProps {
  readonly line: TreeLine;
  readonly classes: Trained["classes"];
}

function Line({ line, classes }: LineProps) {
  if (line.role !== null) {
    return (
      <>
        Is {line.role} at most {formatDigits(line.limit)}?
      </>
    );
  }
  const row = classes.find(({ code }) => code === line.code);
  return (
    <>
      <Swatch colour={row?.colour ?? ""} /> {row?.name}, as {formatPercent(line.share, 0)} of the
      training pixels there
    </>
  );
}
