import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { type EditNews, useNews } from "../api/events";
import { keys } from "../api/queries/keys";
import { onReach } from "../api/reach";
import type { Run, Scene } from "../api/types";
import { useNewsStore } from "../shared/newsStore";
import { tellElsewhere, tellNews } from "../shared/notices";
import { useStudyId } from "../shared/study";
import { useSetPane, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

const ACTS = { done: "", undone: "undone: ", "done again": "done again: " };

/** Follow runs as they happen, a map that is ready appears in the right pane; and what other
 * windows do to the study. */
export function useFollowNews(): void {
  const studyId = useStudyId();
  const queries = useQueryClient();
  const setPane = useSetPane();
  const onRunDone = (runId: number) => {
    void queries.invalidateQueries({ queryKey: keys.planes(studyId) }); // it may have been counted
    const runs = queries.getQueryData<Run[]>(keys.runs(studyId));
    const run = runs?.find(({ id }) => id === runId);
    if (!run?.layer_id) return;
    if (run.kind === "map") setPane(1, { kind: "map", layerId: run.layer_id });
    if (run.kind === "clusters") {
      setPane(1, { kind: "named", layerId: run.layer_id });
      useWork.getState().set({ clusterMap: run.layer_id, cluster: 1 });
      useViewStore.getState().change({ tab: "clusters", readoutFolded: false });
    }
    if (run.kind !== "take-scene") return;
    const scenes = queries.getQueryData<Scene[]>(keys.scenes(studyId));
    const scene = scenes?.find(({ id }) => id === run.layer_id);
    if (scene) tellNews(`${scene.title} has arrived; it is among the scenes.`);
  };
  const onElsewhere = ({ edit_id, title, act, window }: EditNews) => {
    if (window === "") {
      tellNews(`${title}: done. Undo takes it back.`); // by a run
      return;
    }
    useNewsStore.setState(({ elsewhere }) => ({ elsewhere: new Set([...elsewhere, edit_id]) }));
    tellElsewhere(`In another window: ${ACTS[act]}${title}.`);
  };
  useNews(studyId, { onRunDone, onElsewhere });
  useEffect(() => onReach((online) => useNewsStore.setState({ online })), []);
}
