import { useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import { useEdit } from "./edits";
import { keys } from "./keys";

export function useNotes(studyId: number) {
  return useQuery({
    queryKey: keys.notes(studyId),
    queryFn: () =>
      body(
        client.GET("/api/studies/{study_id}/notes", { params: { path: { study_id: studyId } } }),
      ),
  });
}

export function useAddNote(studyId: number) {
  return useEdit(studyId, (note: { x: number; y: number; text: string }) =>
    body(
      client.POST("/api/studies/{study_id}/notes", {
        params: { path: { study_id: studyId } },
        body: note,
      }),
    ),
  );
}

export function useChangeNote(studyId: number) {
  return useEdit(studyId, ({ id, text }: { id: number; text: string }) =>
    body(
      client.PATCH("/api/notes/{note_id}", { params: { path: { note_id: id } }, body: { text } }),
    ),
  );
}

export function useRemoveNote(studyId: number) {
  return useEdit(studyId, (id: number) =>
    body(client.DELETE("/api/notes/{note_id}", { params: { path: { note_id: id } } })),
  );
}
