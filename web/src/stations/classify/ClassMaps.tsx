import { Flex, Text } from "@chakra-ui/react";

import { useRemoveLayer } from "../../api/queries/layers";
import { useMaps } from "../../api/queries/maps";
import { countMaps, isClusterMap } from "../../shared/classMaps";
import type { ClassMap } from "../../api/types";
import { formatCount } from "../../shared/format";
import { KeepAct } from "../../shared/KeepAct";
import { MapChoice } from "../../shared/MapChoice";
import { tellNews } from "../../shared/notices";
import { OnDemandPopover } from "../../shared/OnDemandPopover";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useShownMap } from "../../shared/useShownMap";
import { useView, useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { AreaTable } from "./AreaTable";
import { DivideClass } from "./DivideClass";

/** The kept class maps: how much of each class there is. */
export function ClassMaps() {
  const studyId = useStudyId();
  const { data: maps = [], isPending } = useMaps(studyId);
  const map = useShownMap();
  const { panes } = useView("panes");
  const setPane = useViewStore((store) => store.setPane);
  const remove = useRemoveLayer(studyId);
  const set = useWork((store) => store.set);
  if (!map) {
    return isPending ? null : (
      <Part title="Class maps">
        <Text color="quiet">None yet. Classify the scene and it appears in the right pane.</Text>
      </Part>
    );
  }
  const other = maps.find(({ id }) => id !== map.id);
  const isShown = panes.some((pane) => pane.kind === "map" && pane.layerId === map.id);
  const removeIt = () =>
    remove.mutate(map.id, {
      onSuccess: () => {
        if (isShown) setPane(1, { kind: "live" });
        tellNews(`${map.title} removed. Undo in Train brings it back.`);
      },
    });
  return (
    <Part title="Class maps" aside={countMaps(maps)}>
      <MapChoice maps={maps} map={map} />
      <Flex gap="3" mt="1">
        {!isShown && (
          <Quiet type="button" onClick={() => setPane(1, { kind: "map", layerId: map.id })}>
            Show right
          </Quiet>
        )}
        <Quiet type="button" onClick={removeIt} disabled={remove.isPending}>
          Remove
        </Quiet>
        {other && (
          <Quiet
            type="button"
            onClick={() => set({ sheet: { kind: "compare", first: map.id, second: other.id } })}
          >
            Beside another
          </Quiet>
        )}
        {!isClusterMap(map) && (
          <OnDemandPopover
            button={<Quiet type="button">Divide a class</Quiet>}
            placement="top-end"
            width="19rem"
          >
            {(close) => <DivideClass map={map} onDone={close} />}
          </OnDemandPopover>
        )}
      </Flex>
      <AreaTable legend={map.legend} label={`Areas of ${map.title}`} />
      <CountsOf map={map} />
      {!map.up_to_date && (
        <Remark tone="caution">
          Sites or classes have changed since this map was made. Classify again to follow them; this
          map stays.
        </Remark>
      )}
    </Part>
  );
}

/** What was not counted, and how long it took; a map that was not kept has not been counted yet. */
function CountsOf({ map }: { readonly map: ClassMap }) {
  if (map.seconds === null || map.nodata_pixels === null) {
    return (
      <Remark tone="calm">
        Its areas are counted when it is kept. <KeepAct layer={map} />
      </Remark>
    );
  }
  return (
    <Text color="quiet" mt="1.5">
      {formatCount(map.nodata_pixels)} pixels hold no data and are not counted. The run took{" "}
      {map.seconds.toFixed(1)} s.
    </Text>
  );
}
