import { sentenceOf } from "../../api/problem";
import { useCarried } from "../../api/queries/judging";
import { useScenes } from "../../api/queries/scenes";
import type { Carried, CarriedSite, LandClass } from "../../api/types";
import { formatPercent } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";

/** The sites in another scene, as far as it is known. */
export interface There {
  readonly sceneId: number;
  readonly title: string;
  readonly carried: Carried | undefined;
  /** By the site's id. */
  readonly sites: ReadonlyMap<number, CarriedSite>;
  readonly problem: string | null;
}

const NOWHERE: readonly There[] = [];

export function useThere(otherIds: readonly number[]): readonly There[] {
  const studyId = useStudyId();
  const { data: scenes = [] } = useScenes(studyId);
  const found = useCarried(studyId, useView("sceneId", "roles"), otherIds);
  if (otherIds.length === 0) return NOWHERE;
  return otherIds.map((sceneId, i) => ({
    sceneId,
    title: scenes.find(({ id }) => id === sceneId)?.title ?? "",
    carried: found[i]?.data,
    sites: new Map(found[i]?.data?.sites.map((one) => [one.id, one])),
    problem: found[i]?.error ? sentenceOf(found[i].error) : null,
  }));
}

export const changedIds = ({ sites }: There): number[] =>
  [...sites.values()].filter((one) => one.changed).map(({ id }) => id);

/** What became of a site in another scene, how odd it is there and what it looks like; empty where it takes no part here. */
export function wordsThere(there: There, siteId: number, classes: readonly LandClass[]): string {
  const found = there.sites.get(siteId);
  if (!found) return there.carried?.lost.includes(siteId) ? "no pixels" : "";
  const oddness = found.oddness === null ? [] : [found.oddness.toFixed(2)];
  if (!found.changed) return ["same", ...oddness].join(" · ");
  const like = classes.find(({ code }) => code === found.like)?.name ?? "";
  const looks = found.like_share > 0 ? [`like ${like}, ${formatPercent(found.like_share, 0)}`] : [];
  return ["changed", ...oddness, ...looks].join(" · ");
}
