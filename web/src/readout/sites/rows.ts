import type { JudgedSite, LandClass, Site } from "../../api/types";
import { changedIds, type There, wordsThere } from "./there";

/** A site with what its pixels say, where they say something. */
export interface SiteRow {
  readonly site: Site;
  readonly title: string;
  readonly row: LandClass;
  readonly judged: JudgedSite | null;
  /** The class that its pixels look like instead, and the share of them. */
  readonly like: string;
  readonly likeShare: number;
  /** In each of the other scenes, in words, and whether its cover seems to be another one there. */
  readonly there: readonly { readonly words: string; readonly changed: boolean }[];
}

export type SortKey = "doubt" | "title" | "pixels" | "spread" | "oddness" | "like";

/** Sites in doubt first, as the server has them; before them those that take no part, and first of
 *  all those that seem changed in another scene. */
export function siteRows(
  sites: readonly Site[],
  classes: readonly LandClass[],
  judged: readonly JudgedSite[],
  there: readonly There[],
): SiteRow[] {
  const places = new Map(judged.map((one, i) => [one.id, i]));
  const counted = new Map<number, number>();
  const byId = new Map(classes.map((one) => [one.id, one]));
  const nameOf = new Map(classes.map(({ code, name }) => [code, name]));
  const rows = sites.flatMap((site) => {
    const row = byId.get(site.class_id);
    if (!row) return [];
    const number = (counted.get(row.id) ?? 0) + 1;
    counted.set(row.id, number);
    const found = judged[places.get(site.id) ?? -1] ?? null;
    const like = nameOf.get(found?.like ?? -1) ?? "";
    const likeShare = found?.like_share ?? 0;
    return [
      {
        site,
        title: `${row.name} ${number}`,
        row,
        judged: found,
        like,
        likeShare,
        there: there.map((one) => ({
          words: wordsThere(one, site.id, classes),
          changed: one.sites.get(site.id)?.changed ?? false,
        })),
      },
    ];
  });
  const changed = new Set(there.flatMap(changedIds));
  const rank = ({ site }: SiteRow) =>
    (changed.has(site.id) ? -1e9 : 0) + (places.get(site.id) ?? -1);
  return inOrder(rows, rank);
}

const VALUES: Record<Exclude<SortKey, "doubt">, (row: SiteRow) => number> = {
  title: ({ row, site }) => row.code * 1e9 + site.id,
  pixels: ({ site }) => site.n_pixels,
  spread: ({ judged }) => -(judged?.spread ?? -1),
  oddness: ({ judged }) => -(judged?.oddness ?? -1),
  like: ({ likeShare }) => -likeShare,
};

/** By a column; few pixels, much spread and much oddness first. */
export function sorted(rows: readonly SiteRow[], by: SortKey): readonly SiteRow[] {
  if (by === "doubt") return rows;
  const value = VALUES[by];
  return inOrder(rows, value);
}

/** The lowest number first; each row is asked once. */
function inOrder(rows: readonly SiteRow[], number: (row: SiteRow) => number): SiteRow[] {
  const numbers = Float64Array.from(rows, number);
  const places = Array.from(numbers.keys()).sort((a, b) => (numbers[a] ?? 0) - (numbers[b] ?? 0));
  return places.flatMap((place) => rows[place] ?? []);
}
