import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { EditState, LandClass, Site } from "../types";
import { keys } from "./keys";

/** Everything that an edit of classes, sites, notes or layers can change. */
export async function refreshAfterEdit(queries: QueryClient, studyId: number): Promise<void> {
  await Promise.all(
    [
      keys.classes(studyId),
      keys.allSites(studyId),
      keys.allTraining(studyId),
      keys.edits(studyId),
      keys.maps(studyId),
      keys.scenes(studyId),
      keys.notes(studyId),
      keys.trained(studyId),
      keys.clusterMaps(studyId),
    ].map((queryKey) => queries.invalidateQueries({ queryKey })),
  );
}

/** An act that changes the study and can be undone. */
export function useEdit<V, R>(studyId: number, act: (variables: V) => Promise<R>, quiet = false) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet },
    mutationFn: act,
    onSettled: () => refreshAfterEdit(queries, studyId),
  });
}

export interface DrawnSite {
  /** What the browser calls it: sent again, it is stored once. */
  key: string;
  classId: number;
  geometry: Site["geometry"];
}

/** Failing quietly: the outline is kept in the browser and offered again. What is stored is told
 * at once, before all that it changes has been asked for again. */
export function useCreateSite(studyId: number, sceneId: number, onStored: (site: Site) => void) {
  const create = async ({ key, classId, geometry }: DrawnSite) => {
    const site = await body(
      client.POST("/api/studies/{study_id}/sites", {
        params: { path: { study_id: studyId }, query: { scene_id: sceneId } },
        body: { key, class_id: classId, geometry, note: "" },
      }),
    );
    onStored(site);
    return site;
  };
  return useEdit(studyId, create, true);
}

export interface SiteChange {
  id: number;
  /** Of the site that was seen; without it, the change is made whatever came between. */
  version?: string;
  class_id?: number;
  geometry?: Site["geometry"];
  note?: string;
  /** Null: on every date. */
  true_on?: string | null;
}

/** `quiet`: whoever asks tells what went wrong. */
export function useUpdateSite(studyId: number, sceneId: number, quiet = false) {
  const update = ({ id, ...change }: SiteChange) =>
    body(
      client.PATCH("/api/sites/{site_id}", {
        params: { path: { site_id: id }, query: { scene_id: sceneId } },
        body: change,
      }),
    );
  return useEdit(studyId, update, quiet);
}

export function useDeleteSite(studyId: number) {
  return useEdit(studyId, (id: number) =>
    body(client.DELETE("/api/sites/{site_id}", { params: { path: { site_id: id } } })),
  );
}

/** What is stored is told at once: who draws next draws in the new class, not in the one before. */
export function useCreateClass(studyId: number, onStored: (made: LandClass) => void) {
  return useEdit(studyId, async (name: string) => {
    const made = await body(
      client.POST("/api/studies/{study_id}/classes", {
        params: { path: { study_id: studyId } },
        body: { name, description: "" },
      }),
    );
    onStored(made);
  });
}

export type ClassChange = { id: number } & Partial<
  Pick<LandClass, "name" | "code" | "colour" | "description" | "parent_id">
>;

export function useUpdateClass(studyId: number) {
  return useEdit(studyId, ({ id, ...change }: ClassChange) =>
    body(
      client.PATCH("/api/classes/{class_id}", { params: { path: { class_id: id } }, body: change }),
    ),
  );
}

export function useDeleteClass(studyId: number) {
  return useEdit(studyId, (id: number) =>
    body(client.DELETE("/api/classes/{class_id}", { params: { path: { class_id: id } } })),
  );
}

/** Undo what this window shows as next, and nothing that came between; one after the other. */
export function useUndo(studyId: number) {
  return useStep(studyId, (path, known) =>
    client.POST("/api/studies/{study_id}/undo", {
      params: { path, query: { expected: known?.undo_id ?? null } },
    }),
  );
}

export function useRedo(studyId: number) {
  return useStep(studyId, (path, known) =>
    client.POST("/api/studies/{study_id}/redo", {
      params: { path, query: { expected: known?.redo_id ?? null } },
    }),
  );
}

type Step = (
  path: { study_id: number },
  known: EditState | undefined,
) => Promise<{ data?: EditState }>;

function useStep(studyId: number, step: Step) {
  const queries = useQueryClient();
  const key = keys.edits(studyId);
  return useMutation({
    scope: { id: "undo and redo" },
    mutationFn: () => body(step({ study_id: studyId }, queries.getQueryData<EditState>(key))),
    onSuccess: (now) => queries.setQueryData<EditState>(key, now),
    onSettled: () => refreshAfterEdit(queries, studyId),
  });
}
