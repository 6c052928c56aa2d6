import type { Trained } from "../../../api/types";
import { formatCount, formatDate, formatPercent, plural } from "../../../shared/format";
import { limitsWords } from "../limits";

/** What a classifier is: its method on which bands, of how many classes, from which scene. */
export function whatWords(one: Trained, method: string): string {
  const [quantity] = one.quantities;
  const alike = quantity !== undefined && one.quantities.every((each) => each === quantity);
  const bands = `${plural(one.roles.length, "band")}${alike ? ` of ${quantity}` : ""} (${one.roles.join(", ")})`;
  const n = one.classes.length;
  const [title, classes, came] = one.clusters
    ? [one.clusters.title, plural(n, "cluster"), "found"]
    : [method, plural(n, "class", "classes"), "trained"];
  const where = one.scene === null ? "" : `, ${came} on ${one.scene}`;
  return `${title} on ${bands}, ${classes}${where}, ${formatDate(one.created_at)}.`;
}

/** What it is worth: its first check, or how its clusters came about. */
export function worthWords({ clusters, check }: Trained): string {
  if (clusters) {
    const { n_sampled, n_usable, rounds } = clusters;
    return `Found on ${formatCount(n_sampled)} of ${plural(n_usable, "usable pixel")}; ${rounds.at(-1) ?? ""}.`;
  }
  if (check?.mean == null) return "No site could be held out, so that there is no first check.";
  const { mean, low, high, n_folds } = check;
  return `First check: ${formatPercent(mean, 1)} told right (${limitsWords({ mean, low, high })}) in ${n_folds} folds of whole sites; of the sites, not of the ground.`;
}

/** How far its index of dissimilarity can be off; null where it has none. A bound is rounded up. */
export function dissimilarityWords({ dissimilarity }: Trained): string | null {
  if (!dissimilarity) return null;
  const { n_compared, error, threshold } = dissimilarity;
  const bound = Math.ceil(error * 100) / 100;
  const compared = plural(n_compared, "training pixel");
  const extent = error === 0 ? `all ${compared}` : `${compared} chosen from all`;
  const accuracy = error === 0 ? "exact" : `at most ${bound.toFixed(2)} too large`;
  return `Dissimilarity index: from ${extent}, ${accuracy}; threshold ${threshold.toFixed(2)}.`;
}
