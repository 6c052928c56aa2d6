import { Text } from "@chakra-ui/react";

import { useMaps } from "../api/queries/maps";
import { useClassifiers } from "../api/queries/runs";
import type { ClassMap } from "../api/types";
import { isBreaksMap, isClusterMap } from "../shared/classMaps";
import { plural } from "../shared/format";
import { Handle } from "../shared/Handle";
import { useStudyId } from "../shared/study";
import type { PaneIndex, PaneShow } from "../shared/view";
import { LevelChoice } from "./LevelChoice";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "map" }>;
}

export function MapCaption({ index, show }: Props) {
  const { data } = useMaps(useStudyId());
  const { data: classifiers } = useClassifiers();
  const map = data?.find((l) => l.id === show.layerId);
  const method = classifiers?.find((c) => c.id === map?.method)?.title.toLowerCase() ?? "";
  if (!map) {
    return (
      <>
        <ShowChoice index={index} show={show} /> is not there any more; choose another one
      </>
    );
  }
  return (
    <>
      <ShowChoice index={index} show={show} />, {howOf(map, method)} ·{" "}
      <Handle text="how it was made" label="The recipe of this map in full">
        {() => <Text px="2">{map.sentence}</Text>}
      </Handle>
      {!map.up_to_date && " · sites have changed since"}
      <LevelChoice index={index} show={show} />
    </>
  );
}

function howOf(map: ClassMap, method: string): string {
  const { roles, n_sites } = map;
  if (isBreaksMap(map)) return `class breaks of ${roles.join()}`;
  if (isClusterMap(map)) return "clusters without names";
  if (map.method === "named") return "clusters under the names of classes";
  if (n_sites === 0) return "made of another class map";
  return `${method} on ${plural(roles.length, "band")}, from ${plural(n_sites, "site")}`;
}
