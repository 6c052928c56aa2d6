import { useMaps } from "../api/queries/maps";
import { useRuns } from "../api/queries/runs";
import { useScenes } from "../api/queries/scenes";
import { usePoints } from "../api/queries/studies";
import type { ClassTraining, ClassMap, Run, Scene } from "../api/types";
import { isBreaksMap } from "../shared/classMaps";
import { plural } from "../shared/format";
import type { StationId } from "../shared/stations";
import { useStudyId } from "../shared/study";
import { useCurrentTraining } from "../shared/useCurrent";

interface StationState {
  count: string;
  /** Why the station needs attention, if it does. */
  reason?: string | undefined;
}

const QUIET: StationState = { count: "" };

/** What each station holds, and whether something there needs attention. */
export function useStationState(): Record<StationId, StationState> {
  const studyId = useStudyId();
  const { data: scenes = [] } = useScenes(studyId);
  const { data: layers = [] } = useMaps(studyId);
  const { data: runs = [] } = useRuns(studyId);
  const { data: points = [] } = usePoints(studyId);
  const { data: training } = useCurrentTraining();
  return {
    scenes: { count: String(scenes.filter(isSingle).length) },
    correct: correctState(scenes),
    derive: deriveState(scenes, layers),
    train: training ? trainState(training.classes) : QUIET,
    classify: classifyState(layers, runs),
    tidy: QUIET,
    check: { count: points.length > 0 ? plural(points.length, "point") : "" },
    deliver: QUIET,
  };
}

function isSingle({ series, origin }: Scene): boolean {
  return series === null && origin !== "derived";
}

function deriveState(scenes: Scene[], layers: ClassMap[]): StationState {
  const n = scenes.filter(({ origin }) => origin === "derived").length;
  const nBreaks = layers.filter(isBreaksMap).length;
  return { count: n + nBreaks > 0 ? plural(n + nBreaks, "layer") : "" };
}

function correctState(scenes: Scene[]): StationState {
  const corrected = scenes.filter(
    (scene) => isSingle(scene) && scene.origin !== "delivered",
  ).length;
  const raw = scenes.filter((s) => s.origin === "delivered" && s.quantity === "numbers").length;
  return {
    count: corrected > 0 ? `${corrected} made` : "",
    reason:
      raw > 0
        ? `${plural(raw, "scene holds", "scenes hold")} raw numbers, no reflectance`
        : undefined,
  };
}

function trainState(classes: ClassTraining[]): StationState {
  const sites = classes.reduce((n, c) => n + c.n_sites, 0);
  const left = classes.filter((c) => c.left_out || c.n_sites === 0).length;
  return {
    count: plural(sites, "site"),
    reason:
      left > 0 ? `${plural(left, "class has", "classes have")} too few training pixels` : undefined,
  };
}

function classifyState(layers: ClassMap[], runs: Run[]): StationState {
  const maps = layers.filter((layer) => !isBreaksMap(layer));
  const [newest] = maps;
  const [last] = runs;
  let reason: string | undefined;
  if (last?.state === "failed") reason = "The last run did not work";
  else if (newest && !newest.up_to_date) reason = "Sites have changed since the newest map";
  return { count: maps.length > 0 ? plural(maps.length, "map") : "", reason };
}
