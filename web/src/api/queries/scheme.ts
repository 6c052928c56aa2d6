import { body, client } from "../client";
import { useEdit } from "./edits";

/** Put the classes into an order: all of them, by id. */
export function useOrderClasses(studyId: number) {
  return useEdit(studyId, (classIds: number[]) =>
    body(
      client.PUT("/api/studies/{study_id}/class-order", {
        params: { path: { study_id: studyId } },
        body: { class_ids: classIds },
      }),
    ),
  );
}

/** Give all that a class has to another one. */
export function useMergeClass(studyId: number) {
  return useEdit(studyId, ({ id, intoId }: { id: number; intoId: number }) =>
    body(
      client.POST("/api/classes/{class_id}/merge", {
        params: { path: { class_id: id } },
        body: { into_id: intoId },
      }),
    ),
  );
}

interface SplitOrder {
  id: number;
  sceneId: number;
  roles: readonly string[];
}

/** Give the sites of a class that are of its second kind to a new one. */
export function useSplitClass(studyId: number) {
  return useEdit(studyId, ({ id, sceneId, roles }: SplitOrder) =>
    body(
      client.POST("/api/classes/{class_id}/split", {
        params: { path: { class_id: id } },
        body: { scene_id: sceneId, roles: [...roles] },
      }),
    ),
  );
}

/** Take over the classes of a file. */
export function useSchemeFile(studyId: number) {
  return useEdit(studyId, (file: File) =>
    body(
      client.POST("/api/studies/{study_id}/scheme-files", {
        params: { path: { study_id: studyId }, query: { name: file.name } },
        body: file as unknown as string,
        bodySerializer: (content) => content as unknown as File,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    ),
  );
}

/** Take over the classes of another study. */
export function useSchemeOf(studyId: number) {
  return useEdit(studyId, (otherId: number) =>
    body(
      client.POST("/api/studies/{study_id}/scheme-takes", {
        params: { path: { study_id: studyId } },
        body: { study_id: otherId },
      }),
    ),
  );
}
