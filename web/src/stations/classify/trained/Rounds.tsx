import { Text } from "@chakra-ui/react";

import { sentenceOf } from "../../../api/problem";
import { useRounds } from "../../../api/queries/trained";
import type { Trained } from "../../../api/types";
import { RoundsChart } from "../RoundsChart";

/** How the network of a trained classifier learnt. */
export function Rounds({ one }: { readonly one: Trained }) {
  const { data = [], error } = useRounds(one.id);
  if (error) return <Text color="quiet">{sentenceOf(error)}</Text>;
  return <RoundsChart rounds={data} label={`How ${one.name} learnt, round by round`} />;
}
