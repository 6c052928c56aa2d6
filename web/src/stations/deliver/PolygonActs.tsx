import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { type PolygonsOrder, useMakePolygons } from "../../api/queries/polygons";
import { useRuns } from "../../api/queries/runs";
import { useScenes } from "../../api/queries/scenes";
import type { ClassMap } from "../../api/types";
import { Download } from "../../shared/Download";
import { Folded } from "../../shared/Folded";
import { formatCount, formatPercent } from "../../shared/format";
import { memberKey, memberOf } from "../../shared/member";
import { NumberField } from "../../shared/NumberField";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";

const FORMS = [
  { value: "gpkg", label: "GeoPackage" },
  { value: "geojson", label: "GeoJSON" },
];

/** A map as polygons: how simple, in which format, with the mean of which layer; and the file. */
export function PolygonActs({ map }: { readonly map: ClassMap }) {
  const studyId = useStudyId();
  const make = useMakePolygons(studyId);
  const [order, setOrder] = useState<PolygonsOrder>({ tolerance_m: 0, form: "gpkg" });
  const put = (part: Partial<PolygonsOrder>) => setOrder({ ...order, ...part });
  return (
    <Folded title="Polygons">
      <Flex gap="3" mt="1" wrap="wrap" align="end">
        <label>
          <Text fontWeight="500" mb="1.5">
            Simplified by, m
          </Text>
          <NumberField
            label="Simplified by, m"
            value={order.tolerance_m}
            isGood={(metres) => metres >= 0 && metres <= 100_000}
            onNumber={(metres) => put({ tolerance_m: metres })}
          />
        </label>
        <Select
          label="Format"
          width="9.5rem"
          value={order.form}
          options={FORMS}
          onValue={(form) => put({ form: form as PolygonsOrder["form"] })}
        />
        <MeanChoice measure={order.measure ?? null} onMeasure={(measure) => put({ measure })} />
      </Flex>
      <Text color="quiet" mt="1">
        A corner goes when its triangle covers less than a square of that side; 0 keeps all. Shared
        borders stay shared, and no class changes its area by more than four thousandths.
      </Text>
      <Flex mt="1">
        <Quiet
          type="button"
          minH="24px"
          disabled={make.isPending}
          onClick={() => make.mutate({ layerId: map.id, ...order })}
        >
          Make polygons
        </Quiet>
      </Flex>
      {make.error && <Remark tone="problem">{sentenceOf(make.error)}</Remark>}
      <Made layerId={map.id} />
    </Folded>
  );
}

type Measure = NonNullable<PolygonsOrder["measure"]>;

interface MeanProps {
  readonly measure: Measure | null;
  readonly onMeasure: (measure: Measure | null) => void;
}

/** A layer of one band whose mean each polygon tells, a confidence first of all. */
function MeanChoice({ measure, onMeasure }: MeanProps) {
  const { data: scenes = [] } = useScenes(useStudyId());
  const bands = scenes
    .filter(({ origin }) => origin === "derived")
    .flatMap(({ id, title, bands: all }) =>
      all.map(({ role }) => ({ value: memberKey(id, role), label: `${role}, ${title}` })),
    );
  if (bands.length === 0) return null;
  return (
    <Select
      label="Mean of"
      width="100%"
      value={measure ? memberKey(measure.scene_id, measure.role) : ""}
      options={[{ value: "", label: "nothing" }, ...bands]}
      onValue={(key) => {
        const { sceneId, role } = memberOf(key);
        onMeasure(key === "" ? null : { scene_id: sceneId, role });
      }}
    />
  );
}

/** What was made of the map so far. */
function Made({ layerId }: { readonly layerId: number }) {
  const { data: runs = [] } = useRuns(useStudyId());
  const of = runs.filter((run) => run.polygons_of === layerId);
  return of.map((run) => (
    <Flex key={run.id} gap="2" mt="1" wrap="wrap" role="status">
      {run.polygons && (
        <>
          <Download href={`/api/runs/${run.id}/file`}>
            {`${formatCount(run.polygons.n_polygons)} polygons`}
          </Download>
          <Text color="quiet">
            {formatCount(run.polygons.n_corners)} corners, areas of classes within{" "}
            {formatPercent(run.polygons.largest_change, 2)}
          </Text>
        </>
      )}
      {run.state === "waiting" && <Text color="quiet">Polygons wait for their turn.</Text>}
      {run.state === "running" && (
        <Text color="quiet">Polygons are made: {Math.round(run.percent)} %.</Text>
      )}
      {run.problem !== null && <Remark tone="problem">{run.problem}</Remark>}
    </Flex>
  ));
}
