import { useRuns } from "../../api/queries/runs";
import { useStudyId } from "../../shared/study";
import { RunEntry } from "./RunEntry";

const SHOWN_ENDED = 1;

/** Runs at work, and the last one that did not end well. */
export function RunList() {
  const { data: runs = [] } = useRuns(useStudyId());
  const atWork = runs.filter((run) => run.state === "waiting" || run.state === "running");
  const [last] = runs;
  const ended = last && (last.state === "failed" || last.state === "cancelled") ? [last] : [];
  return [...atWork, ...ended.slice(0, SHOWN_ENDED)].map((run) => (
    <RunEntry key={run.id} run={run} />
  ));
}
