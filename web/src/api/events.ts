import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useEffect, useEffectEvent } from "react";

import { refreshAfterEdit } from "./queries/edits";
import { keys } from "./queries/keys";
import { doubtReach, tellAnswer } from "./reach";
import type { Run } from "./types";
import { windowId } from "./windowId";

interface RunNews {
  kind: "run";
  study_id: number;
  run_id: number;
  state: Run["state"];
  percent: number;
  seconds_left: number | null;
  /** Of the table that it tells, if it tells one. */
  n_rows: number;
}

/** An edit that was made, undone, or made again; `window`: where. */
export interface EditNews {
  kind: "edit";
  study_id: number;
  edit_id: number;
  title: string;
  act: "done" | "undone" | "done again";
  window: string;
}

interface Handlers {
  onRunDone: (runId: number) => void;
  onElsewhere: (news: EditNews) => void;
}

/**
 * Follow a study as its runs go on and other windows change it. Steps of a run change the list in
 * place; anything else is read anew, and so is all of it after the connection was lost.
 */
export function useNews(studyId: number, handlers: Handlers): void {
  const queries = useQueryClient();
  const onRunDone = useEffectEvent(handlers.onRunDone);
  const onElsewhere = useEffectEvent(handlers.onElsewhere);
  useEffect(() => {
    const source = new EventSource(`/api/studies/${studyId}/events`);
    source.addEventListener("open", () => {
      tellAnswer();
      void refreshAll(queries, studyId);
    });
    source.addEventListener("error", () => void doubtReach());
    source.addEventListener("message", (event: MessageEvent<string>) => {
      const news = JSON.parse(event.data) as RunNews | EditNews;
      if (news.kind === "edit") {
        if (news.window === windowId) return; // its own acts ask anew what they change
        onElsewhere(news);
        void refreshAfterEdit(queries, studyId);
      } else if (news.state === "running" && news.percent > 0) {
        const known = queries.getQueryData<Run[]>(keys.runs(studyId));
        queries.setQueryData<Run[]>(keys.runs(studyId), (runs) => patchRun(runs, news));
        if (countRows(known?.find(({ id }) => id === news.run_id)) < news.n_rows) {
          void queries.invalidateQueries({ queryKey: keys.runs(studyId) });
        }
      } else {
        void refreshAfterRun(queries, studyId).then(() => {
          if (news.state === "done") onRunDone(news.run_id);
        });
      }
    });
    return () => source.close();
  }, [studyId, queries]);
}

async function refreshAfterRun(queries: QueryClient, studyId: number): Promise<void> {
  await Promise.all(
    [
      keys.runs(studyId),
      keys.maps(studyId),
      keys.scenes(studyId),
      keys.trained(studyId),
      ["scene"],
    ].map((queryKey) => queries.invalidateQueries({ queryKey })),
  );
}

async function refreshAll(queries: QueryClient, studyId: number): Promise<void> {
  await Promise.all([refreshAfterRun(queries, studyId), refreshAfterEdit(queries, studyId)]);
}

function countRows(run: Run | undefined): number {
  return (run?.methods.length ?? 0) + (run?.layers.length ?? 0);
}

function patchRun(runs: Run[] | undefined, news: RunNews): Run[] | undefined {
  const { run_id, state, percent, seconds_left } = news;
  return runs?.map((run) => (run.id === run_id ? { ...run, state, percent, seconds_left } : run));
}
