import { formatPercent } from "../../shared/format";
import type { Limits } from "../../api/types";

/** "88 – 94 %"; a dash where one fold told it. */
export function limitsWords({ low, high }: Limits): string {
  if (low === null || high === null) return "–";
  return `${formatPercent(low, 0)} – ${formatPercent(high, 0)}`;
}

/** A loss in percentage points, with its sign: nothing lost is nothing or less. */
export function lossWords({ mean, low, high }: Limits): string {
  if (mean === null) return "–";
  const points = (share: number) => (100 * share).toFixed(1).replace("-", "−");
  const limits = low === null || high === null ? "" : ` (${points(low)} to ${points(high)})`;
  return `${points(mean)}${limits}`;
}

/** Two digits that say something, however short. */
export function secondsWords(seconds: number): string {
  if (seconds < 0.01) return "< 0.01 s";
  return `${seconds < 10 ? seconds.toPrecision(2) : Math.round(seconds)} s`;
}
