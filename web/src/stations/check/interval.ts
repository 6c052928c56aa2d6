import type { Proportion } from "../../api/types";

/** The confidence interval of a share in words. */
export function interval({ low, high }: Proportion): string {
  if (low === null || high === null) return "–";
  return `${(100 * low).toFixed(0)} to ${(100 * high).toFixed(0)} %`;
}

/** The same where there is little room. */
export function shortInterval({ low, high }: Proportion): string {
  if (low === null || high === null) return "";
  return `${(100 * low).toFixed(0)} – ${(100 * high).toFixed(0)}`;
}
