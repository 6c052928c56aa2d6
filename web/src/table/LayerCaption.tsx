import { Text } from "@chakra-ui/react";

import { useMaps } from "../api/queries/maps";
import { useClassifiers } from "../api/queries/runs";
import type { ClassMap } from "../api/types";
import { isBreaksMap } from "../shared/classMaps";
import { plural } from "../shared/format";
import { Handle } from "../shared/Handle";
import { useStudyId } from "../shared/study";
import type { PaneIndex } from "../shared/view";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly layerId: number;
}

export function LayerCaption({ index, layerId }: Props) {
  const { data } = useMaps(useStudyId());
  const { data: classifiers } = useClassifiers();
  const show = { kind: "map", layerId } as const;
  const layer = data?.find((l) => l.id === layerId);
  const method = classifiers?.find((c) => c.id === layer?.method)?.title.toLowerCase() ?? "";
  if (!layer) {
    return (
      <>
        <ShowChoice index={index} show={show} /> is not there any more; choose another one
      </>
    );
  }
  return (
    <>
      <ShowChoice index={index} show={show} />, {howOf(layer, method)} ·{" "}
      <Handle text="how it was made" label="The recipe of this map in full">
        {() => <Text px="2">{layer.sentence}</Text>}
      </Handle>
      {!layer.up_to_date && " · sites have changed since"}
    </>
  );
}

function howOf(layer: ClassMap, method: string): string {
  const { roles, n_sites } = layer;
  if (isBreaksMap(layer)) return `class breaks of ${roles.join()}`;
  if (n_sites === 0) return "made of another class map";
  return `${method} on ${plural(roles.length, "band")}, from ${plural(n_sites, "site")}`;
}
