import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { useSaveView } from "../api/queries/studies";
import type { ClassMap, Scene, Study } from "../api/types";
import { tellBusy } from "../shared/busyStore";
import { openView } from "../shared/openView";
import { endStudy } from "../shared/studyStore";
import { useViewStore } from "../shared/viewStore";

const PAUSE_MS = 300;

/** Open the view as the study was left, and remember every change of it; with the study, all ends
 * that belongs to it. */
export function useOpenView(
  study: Study | undefined,
  scenes: Scene[] | undefined,
  layers: ClassMap[] | undefined,
): void {
  const ready = study !== undefined && scenes !== undefined && layers !== undefined;
  const studyId = study?.id ?? 0;
  const { mutate } = useSaveView(studyId);
  const queries = useQueryClient();

  useEffect(() => {
    const store = useViewStore.getState();
    if (ready && !store.view) store.open(openView(study.view, scenes, layers));
  }, [ready, study, scenes, layers]);

  useEffect(() => {
    if (studyId === 0) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const save = () => {
      clearTimeout(timer);
      timer = undefined;
      tellBusy("view", false);
      const { view } = useViewStore.getState();
      if (view) mutate({ ...view });
    };
    const stop = useViewStore.subscribe((_, before) => {
      if (!before.view) return;
      clearTimeout(timer);
      tellBusy("view", true);
      timer = setTimeout(save, PAUSE_MS);
    });
    const leave = () => timer !== undefined && save();
    addEventListener("pagehide", leave);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
      stop();
    };
  }, [studyId, mutate]);

  useEffect(
    () => () => {
      endStudy();
      queries.removeQueries();
    },
    [queries],
  );
}
