import type { LayerRow, MethodRow, Run } from "../../api/types";

/** The newest run of a kind, whatever became of it. */
export function newestOf(runs: readonly Run[] | undefined, kind: string): Run | undefined {
  return runs?.find((run) => run.kind === kind);
}

export function isAtWork(run: Run | undefined): boolean {
  return run?.state === "waiting" || run?.state === "running";
}

/** The best first; what could not be tried comes last. */
export function bestFirst(rows: readonly MethodRow[]): MethodRow[] {
  return rows.toSorted((a, b) => (b.tried?.right.mean ?? -1) - (a.tried?.right.mean ?? -1));
}

/** Those without which nothing is lost beyond doubt, the least missed first. */
export function notMissed(rows: readonly LayerRow[]): LayerRow[] {
  const loss = ({ left_out }: LayerRow) => left_out.mean ?? 1;
  const least = ({ left_out }: LayerRow) => left_out.low ?? left_out.mean ?? 1;
  return rows.filter((row) => least(row) <= 0).toSorted((a, b) => loss(a) - loss(b));
}
