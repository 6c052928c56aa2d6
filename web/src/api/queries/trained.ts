import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { components } from "../schema.generated";
import { refreshLayers } from "./corrections";
import { useEdit } from "./edits";
import { keys } from "./keys";

/** The trained classifiers of a study, the newest first. */
export function useTrained(studyId: number) {
  return useQuery({
    queryKey: keys.trained(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/trained-classifiers", {
          params: { path: { study_id: studyId } },
        }),
      ),
  });
}

/** Whether a classifier can be put on scenes, and what to keep in mind. */
export function useFits(classifierId: number, sceneIds: readonly number[]) {
  return useQuery({
    queryKey: keys.fits(classifierId, sceneIds),
    queryFn: () =>
      body(
        client.GET("/api/trained-classifiers/{classifier_id}/fits", {
          params: { path: { classifier_id: classifierId }, query: { scene_ids: [...sceneIds] } },
        }),
      ),
  });
}

/** How a neural network learnt. */
export function useRounds(classifierId: number) {
  return useQuery({
    queryKey: keys.rounds(classifierId),
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/trained-classifiers/{classifier_id}/rounds", {
          params: { path: { classifier_id: classifierId } },
        }),
      ),
  });
}

/** A decision tree as it is read. */
export function useQuestions(classifierId: number) {
  return useQuery({
    queryKey: keys.questions(classifierId),
    retry: false,
    queryFn: () =>
      body(
        client.GET("/api/trained-classifiers/{classifier_id}/questions", {
          params: { path: { classifier_id: classifierId } },
        }),
      ),
  });
}

export type ApplyOrder = components["schemas"]["ApplyCreate"] & { id: number };

export function useApply(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...order }: ApplyOrder) =>
      body(
        client.POST("/api/trained-classifiers/{classifier_id}/apply", {
          params: { path: { classifier_id: id } },
          body: order,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}

export function useRenameTrained(studyId: number) {
  return useEdit(studyId, ({ id, name }: { id: number; name: string }) =>
    body(
      client.PATCH("/api/trained-classifiers/{classifier_id}", {
        params: { path: { classifier_id: id } },
        body: { name },
      }),
    ),
  );
}

export function useRemoveTrained(studyId: number) {
  return useEdit(studyId, (id: number) =>
    body(
      client.DELETE("/api/trained-classifiers/{classifier_id}", {
        params: { path: { classifier_id: id } },
      }),
    ),
  );
}

/** Bring in the file that another study gave away. */
export function useBringInTrained(studyId: number) {
  return useEdit(studyId, (file: File) =>
    body(
      client.POST("/api/studies/{study_id}/trained-classifiers", {
        params: { path: { study_id: studyId }, query: { name: stemOf(file.name) } },
        body: file as unknown as string,
        bodySerializer: (content) => content as unknown as File,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    ),
  );
}

function stemOf(name: string): string {
  return name.replace(/(-classifier|-onnx)?\.(zip|onnx)$/i, "").slice(0, 120) || "Classifier";
}

type SuretyOrder = components["schemas"]["SuretyOrder"] & { layerId: number };

/** A layer that tells how sure the classifier behind a map was. */
export function useTellSurety(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    meta: { quiet: true },
    mutationFn: ({ layerId, ...order }: SuretyOrder) =>
      body(
        client.POST("/api/maps/{layer_id}/surety", {
          params: { path: { layer_id: layerId } },
          body: order,
        }),
      ),
    onSuccess: () => refreshLayers(queries, studyId),
  });
}
