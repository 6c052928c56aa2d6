import { Text } from "@chakra-ui/react";
import { useState } from "react";

import { useDivideClass } from "../../api/queries/clusters";
import type { ClassMap } from "../../api/types";
import { UNCLASSIFIED_CODE } from "../../shared/classCode";
import { plural } from "../../shared/format";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useView, useViewStore } from "../../shared/viewStore";
import { PartsActs } from "./PartsActs";

interface Props {
  readonly map: ClassMap;
  readonly onDone: () => void;
}

/** A class that is two things at once, parted into clusters in a new map; the other one stays. */
export function DivideClass({ map, onDone }: Props) {
  const divide = useDivideClass(useStudyId());
  const { roles, sceneId } = useView("roles", "sceneId");
  const setPane = useViewStore((store) => store.setPane);
  const classes = map.legend.filter(({ code }) => code !== UNCLASSIFIED_CODE);
  const [code, setCode] = useState(classes[0]?.code ?? 1);
  const act = (n: number) =>
    divide.mutate(
      {
        layerId: map.id,
        code,
        scene_id: sceneId,
        roles,
        method: "k-means",
        settings: { n_clusters: n },
        seed: 0,
      },
      {
        onSuccess: ({ layer_id }) => {
          setPane(1, { kind: "map", layerId: layer_id });
          onDone();
        },
      },
    );
  return (
    <>
      <Select
        label="Class that is two things"
        value={String(code)}
        options={classes.map((one) => ({ value: String(one.code), label: one.name }))}
        onValue={(value) => setCode(Number(value))}
      />
      <Text color="quiet" mt="1">
        Its pixels are clustered by themselves (k-means) on {plural(roles.length, "band")} of the
        work scene; the others stay as they are. Name the parts in Tidy, by Recode and join.
      </Text>
      <PartsActs disabled={divide.isPending} onParts={act} />
    </>
  );
}
