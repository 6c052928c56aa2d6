import { useQueryClient } from "@tanstack/react-query";

import { useRunNews } from "../api/events";
import { keys } from "../api/queries/keys";
import type { Run } from "../api/types";
import { useStudyId } from "../shared/study";
import { useSetPane } from "../shared/viewStore";

/** Follow runs as they happen; a map that is ready appears in the right pane. */
export function useFollowRuns(): void {
  const studyId = useStudyId();
  const queries = useQueryClient();
  const setPane = useSetPane();
  useRunNews(studyId, (runId) => {
    void queries.invalidateQueries({ queryKey: keys.planes(studyId) }); // it may have been counted
    const runs = queries.getQueryData<Run[]>(keys.runs(studyId));
    const layerId = runs?.find((run) => run.id === runId)?.layer_id;
    if (layerId) setPane(1, { kind: "layer", layerId });
  });
}
