import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useEffectEvent } from "react";

import { keys } from "./queries/keys";
import type { Run } from "./types";

interface RunNews {
  study_id: number;
  run_id: number;
  state: Run["state"];
  percent: number;
  seconds_left: number | null;
}

/**
 * Follow the runs of a study as they happen. Steps change the list in place; anything else is read
 * anew, and so is all of it after the connection was lost.
 */
export function useRunNews(studyId: number, onDone: (runId: number) => void): void {
  const queries = useQueryClient();
  const tellDone = useEffectEvent(onDone);
  useEffect(() => {
    const source = new EventSource("/api/events");
    const refresh = async () => {
      await Promise.all([
        queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
        queries.invalidateQueries({ queryKey: keys.layers(studyId) }),
        queries.invalidateQueries({ queryKey: keys.scenes(studyId) }),
        queries.invalidateQueries({ queryKey: ["scene"] }),
      ]);
    };
    source.addEventListener("open", () => void refresh());
    source.addEventListener("run", (event: MessageEvent<string>) => {
      const news = JSON.parse(event.data) as RunNews;
      if (news.study_id !== studyId) return;
      if (news.state === "running" && news.percent > 0) {
        queries.setQueryData<Run[]>(keys.runs(studyId), (runs) => patchRun(runs, news));
        return;
      }
      void refresh().then(() => {
        if (news.state === "done") tellDone(news.run_id);
      });
    });
    return () => source.close();
  }, [studyId, queries]);
}

function patchRun(runs: Run[] | undefined, news: RunNews): Run[] | undefined {
  const { run_id, state, percent, seconds_left } = news;
  return runs?.map((run) => (run.id === run_id ? { ...run, state, percent, seconds_left } : run));
}
