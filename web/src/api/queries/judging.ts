import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import type { SiteAct } from "../types";
import { useEdit } from "./edits";
import { keys } from "./keys";

/** The scene and the bands whose pixels are judged. */
export interface Judged {
  sceneId: number;
  roles: readonly string[];
}

/** The same, and the method in hand as the server is told. */
export interface Taught extends Judged {
  method: string;
}

/** What is odd about which site, and what would help most. */
export function useJudgement(studyId: number, { sceneId, roles }: Judged) {
  const text = roles.join(",");
  return useQuery({
    queryKey: keys.judgement(studyId, sceneId, text),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/judgement", {
          params: { path: { study_id: studyId }, query: { scene_id: sceneId, roles: text } },
        }),
      ),
  });
}

/** Where the unusual pixels of a site lie; asked for a site that has some. */
export function useOddPixels(studyId: number, siteId: number | null, { sceneId, roles }: Judged) {
  const text = roles.join(",");
  return useQuery({
    queryKey: keys.oddPixels(studyId, siteId ?? 0, { sceneId, text }),
    enabled: siteId !== null,
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/odd-pixels", {
          params: {
            path: { study_id: studyId },
            query: { scene_id: sceneId, roles: text, site_id: siteId ?? 0 },
          },
        }),
      ),
  });
}

/** Training pixels told back, and by folds of whole sites. */
export function useFirstCheck(studyId: number, judged: Taught, togetherM: number) {
  const query = {
    scene_id: judged.sceneId,
    roles: judged.roles.join(","),
    together_m: togetherM,
    method: judged.method,
  };
  return useQuery({
    queryKey: keys.firstCheck(studyId, query),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/first-check", {
          params: { path: { study_id: studyId }, query },
        }),
      ),
  });
}

/** Statistics of all classes, or of one site. */
export function useClassStatistics(studyId: number, judged: Judged, siteId: number | null) {
  const query = { scene_id: judged.sceneId, roles: judged.roles.join(","), site_id: siteId };
  return useQuery({
    queryKey: keys.classStatistics(studyId, query),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/class-statistics", {
          params: { path: { study_id: studyId }, query },
        }),
      ),
  });
}

/** Which bands tell two classes apart. */
export function usePairBands(studyId: number, judged: Judged, codes: readonly [number, number]) {
  const query = {
    scene_id: judged.sceneId,
    roles: judged.roles.join(","),
    code: codes[0],
    other_code: codes[1],
  };
  return useQuery({
    queryKey: keys.pairBands(studyId, query),
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/band-subsets", {
          params: { path: { study_id: studyId }, query },
        }),
      ),
  });
}

/** What becomes of the sites in other scenes, for each of them in order. */
export function useCarried(
  studyId: number,
  { sceneId, roles }: Judged,
  otherIds: readonly number[],
) {
  return useQueries({
    queries: otherIds.map((otherId) => {
      const query = { scene_id: sceneId, other_id: otherId, roles: roles.join(",") };
      return {
        queryKey: keys.carried(studyId, query),
        retry: false,
        queryFn: () =>
          body(
            client.GET("/api/studies/{study_id}/carried", {
              params: { path: { study_id: studyId }, query },
            }),
          ),
      };
    }),
  });
}

/** Where another site would teach most; asked when it is wanted. */
export function useNextPlaces(studyId: number, judged: Taught, wanted: boolean) {
  const { sceneId, roles } = judged;
  const query = { scene_id: sceneId, roles: roles.join(","), method: judged.method };
  return useQuery({
    queryKey: keys.nextPlaces(studyId, query),
    enabled: wanted,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/next-places", {
          params: { path: { study_id: studyId }, query },
        }),
      ),
  });
}

export interface SiteOrder {
  act: SiteAct;
  siteIds: readonly number[];
  classId?: number;
  line?: [number, number][];
}

/** One act over many sites, undone as one. */
export function useSiteActs(studyId: number, { sceneId, roles }: Judged) {
  return useEdit(studyId, ({ act, siteIds, classId, line = [] }: SiteOrder) =>
    body(
      client.POST("/api/studies/{study_id}/site-acts", {
        params: { path: { study_id: studyId } },
        body: {
          act,
          site_ids: [...siteIds],
          scene_id: sceneId,
          roles: [...roles],
          class_id: classId ?? null,
          line,
        },
      }),
    ),
  );
}

/** Set a share of each class's sites aside, at random. */
export function useSetAside(studyId: number) {
  return useEdit(studyId, (share: number) =>
    body(
      client.POST("/api/studies/{study_id}/sites-aside", {
        params: { path: { study_id: studyId } },
        body: { share, seed: 0 },
      }),
    ),
  );
}
