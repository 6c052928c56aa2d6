import { useNavigate } from "react-router";

import { useMaps } from "../api/queries/maps";
import { useScenes } from "../api/queries/scenes";
import { useClasses } from "../api/queries/training";
import { showNativePixels, showWholeScene } from "../map";
import { STATIONS } from "../shared/stations";
import { useStudyId } from "../shared/study";
import { showScene } from "../shared/view";
import { useSetPane, useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

export interface SearchItem {
  key: string;
  title: string;
  act: () => void;
}

/** Everything that can be found by name, with what happens when it is chosen. */
export function useSearchItems(): SearchItem[] {
  const studyId = useStudyId();
  const navigate = useNavigate();
  const { data: scenes = [] } = useScenes(studyId);
  const { data: layers = [] } = useMaps(studyId);
  const { data: classes = [] } = useClasses(studyId);
  const { panes } = useView("panes");
  const setPane = useSetPane();
  const linked = useWork((store) => store.linked);
  const set = useWork((store) => store.set);
  const open = (station: string) => void navigate(`/studies/${studyId}/${station}`);
  return [
    ...STATIONS.map(({ id, title }) => ({
      key: `station:${id}`,
      title: `Open ${title}`,
      act: () => open(id),
    })),
    ...scenes
      .filter((scene) => scene.series === null)
      .map((scene) => ({
        key: `scene:${scene.id}`,
        title: `Show ${scene.title} left`,
        act: () => setPane(0, showScene(scene, panes[0])),
      })),
    ...layers.map((layer) => ({
      key: `layer:${layer.id}`,
      title: `Show ${layer.title} right`,
      act: () => setPane(1, { kind: "map", layerId: layer.id }),
    })),
    ...classes.map((row) => ({
      key: `class:${row.id}`,
      title: `Draw ${row.name}`,
      act: () => {
        set({ classId: row.id, tool: "outline" });
        open("train");
      },
    })),
    {
      key: "live",
      title: "Show the class map as it stands right",
      act: () => setPane(1, { kind: "live" }),
    },
    { key: "whole", title: "Whole scene", act: () => linked && showWholeScene(linked) },
    { key: "native", title: "One to one", act: () => linked && showNativePixels(linked) },
  ];
}
