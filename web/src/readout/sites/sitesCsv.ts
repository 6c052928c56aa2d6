import { rowsToCsv } from "../../charts";
import type { SiteRow } from "./rows";
import type { There } from "./there";

const HEAD = [
  "site",
  "class",
  "pixels",
  "pixels covered",
  "spread",
  "oddness",
  "looks like",
  "share that looks like another class",
  "true on",
  "set aside",
  "note",
];

/** The table, and the means of each band here and in the scenes that are compared. */
export function sitesCsv(
  rows: readonly SiteRow[],
  there: readonly There[],
  roles: readonly string[],
): string {
  const known = there.find(({ sites }) => sites.size > 0);
  const more = there.flatMap(({ title }) => [title, ...roles.map((role) => `${role}, ${title}`)]);
  return rowsToCsv([
    [...HEAD, ...(known ? roles.map((role) => `${role}, here`) : []), ...more],
    ...rows.map(({ site, title, row, judged, like, likeShare, there: words }) => [
      title,
      row.name,
      site.n_pixels,
      site.n_covered,
      judged?.spread ?? "",
      judged?.oddness ?? "",
      like,
      likeShare,
      site.true_on ?? "",
      site.set_aside ? "yes" : "",
      site.note,
      ...(known ? means(known.sites.get(site.id)?.mean_here, roles) : []),
      ...there.flatMap(({ sites }, i) => [
        words[i]?.words ?? "",
        ...means(sites.get(site.id)?.mean_there, roles),
      ]),
    ]),
  ]);
}

function means(values: readonly number[] | undefined, roles: readonly string[]) {
  return roles.map((_, i) => values?.[i] ?? "");
}
