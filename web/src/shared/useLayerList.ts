import { useMaps } from "../api/queries/maps";
import { usePictures } from "../api/queries/pictures";
import { useScenes } from "../api/queries/scenes";
import type { Grid, ClassMap, Scene } from "../api/types";
import { isClusterMap } from "./classMaps";
import { formatDate } from "./format";
import { useStudyId } from "./study";
import { type LayerOrder, type PaneShow, showScene } from "./view";
import { useView } from "./viewStore";

/** Anything that a pane can show. */
export interface LayerEntry {
  key: string;
  title: string;
  note: string | undefined;
  hidden: boolean;
  /** Where it lies; null where that is everywhere. */
  grid: Grid | null;
  scene: Scene | null;
  map: ClassMap | null;
  show: (like: PaneShow) => PaneShow;
  isShownBy: (pane: PaneShow) => boolean;
}

export interface LayerGroup {
  title: string;
  entries: LayerEntry[];
}

const LIVE: Omit<LayerEntry, "hidden"> = {
  key: "live",
  title: "Class map as it stands",
  note: "From the training sites of this moment, without a run",
  grid: null,
  scene: null,
  map: null,
  show: () => ({ kind: "live" }),
  isShownBy: (pane) => pane.kind === "live" && !pane.method,
};

const LIVE_CLUSTERS: Omit<LayerEntry, "hidden"> = {
  ...LIVE,
  key: "clusters",
  title: "Clusters as they stand",
  note: "Found on a sample of the scene, without a run",
  show: () => ({ kind: "clusters" }),
  isShownBy: (pane) => pane.kind === "clusters",
};

/** All layers by where they come from, or by the group that they were put in, in the analyst's
 * order. */
export function useLayerList(): LayerGroup[] {
  const studyId = useStudyId();
  const { data: scenes = [] } = useScenes(studyId);
  const { data: maps = [] } = useMaps(studyId);
  const { data: pictures = [] } = usePictures(studyId);
  const order = useView("layers").layers;
  const hidden = new Set(order.hidden);
  const all: [group: string, entry: Omit<LayerEntry, "hidden">][] = [
    ["Class maps", LIVE],
    ["Class maps", LIVE_CLUSTERS],
    ...maps.flatMap((map): [string, typeof LIVE][] => [
      ...(isClusterMap(map) ? [["Class maps", namedEntry(map)] as [string, typeof LIVE]] : []),
      ["Class maps", mapEntry(map)],
    ]),
    ...scenes.filter((s) => s.series === null).map(sceneRow),
    ...pictures.map(({ id, title, taken }): [string, typeof LIVE] => [
      "Reference pictures",
      {
        key: `picture:${id}`,
        title,
        note: taken ? `Taken ${formatDate(taken)}` : "Date unknown",
        grid: null,
        scene: null,
        map: null,
        show: () => ({ kind: "picture", pictureId: id }),
        isShownBy: (pane) => pane.kind === "picture" && pane.pictureId === id,
      },
    ]),
    ...scenes.filter((s) => s.series !== null).map(sceneRow), // there may be many: last
  ];
  const groups = new Map<string, LayerEntry[]>();
  for (const [origin, entry] of all) {
    const group = order.groups[entry.key] ?? origin;
    const members = groups.get(group) ?? [];
    members.push({ ...entry, hidden: hidden.has(entry.key) });
    groups.set(group, members);
  }
  return [...groups].map(([title, entries]) => ({ title, entries: inOrder(entries, order) }));
}

function inOrder(entries: LayerEntry[], { order }: LayerOrder): LayerEntry[] {
  const place = new Map(order.map((key, i) => [key, i]));
  const at = (entry: LayerEntry, i: number) => place.get(entry.key) ?? order.length + i;
  return entries
    .map((entry, i) => ({ entry, at: at(entry, i) }))
    .sort((a, b) => a.at - b.at)
    .map(({ entry }) => entry);
}

const ORIGINS: Record<Scene["origin"], string> = {
  delivered: "Scenes as delivered",
  corrected: "Corrected scenes",
  combined: "Scenes combined",
  derived: "Derived layers",
};

function originOf(scene: Scene): string {
  return scene.series ?? ORIGINS[scene.origin];
}

function sceneRow(scene: Scene): [string, typeof LIVE] {
  return [originOf(scene), sceneEntry(scene)];
}

function sceneEntry(scene: Scene): Omit<LayerEntry, "hidden"> {
  return {
    key: `scene:${scene.id}`,
    title: scene.title,
    note: formatDate(scene.acquired),
    grid: scene.display,
    scene,
    map: null,
    show: (like) => showScene(scene, like),
    isShownBy: (pane) => pane.kind === "scene" && pane.sceneId === scene.id,
  };
}

/** Clusters under the names that they have now; the codes themselves are another entry. */
function namedEntry(map: ClassMap): Omit<LayerEntry, "hidden"> {
  return {
    ...LIVE,
    key: `named:${map.id}`,
    title: `${map.title}, in classes`,
    note: "As they are named now",
    grid: map.grid,
    show: () => ({ kind: "named", layerId: map.id }),
    isShownBy: (pane) => pane.kind === "named" && pane.layerId === map.id,
  };
}

function mapEntry(map: ClassMap): Omit<LayerEntry, "hidden"> {
  return {
    key: `map:${map.id}`,
    title: map.title,
    note: undefined,
    grid: map.grid,
    scene: null,
    map,
    show: () => ({ kind: "map", layerId: map.id }),
    isShownBy: (pane) => pane.kind === "map" && pane.layerId === map.id,
  };
}
