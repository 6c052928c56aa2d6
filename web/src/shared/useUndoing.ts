import { useRedo, useUndo } from "../api/queries/edits";
import { useEditState } from "../api/queries/training";
import { askFirst } from "./askStore";
import { useNewsStore } from "./newsStore";
import { useStudyId } from "./study";

interface Act {
  /** What would be undone or redone; null where there is nothing. */
  title: string | null;
  pending: boolean;
  go: () => void;
}

/** Undo and redo of what this window shows as next; what another window did is asked about first. */
export function useUndoing(): { undo: Act; redo: Act } {
  const studyId = useStudyId();
  const { data: edits } = useEditState(studyId);
  const elsewhere = useNewsStore((store) => store.elsewhere);
  const undo = useUndo(studyId);
  const redo = useRedo(studyId);
  const act = (
    verb: string,
    { mutate, isPending }: typeof undo,
    title: string | null,
    id: number | null,
  ): Act => ({
    title,
    pending: isPending,
    go: () => {
      if (id === null || !elsewhere.has(id)) mutate();
      else {
        askFirst({
          title: `${verb} what another window did?`,
          words: `“${title ?? ""}” was done in another window since this one was opened.`,
          act: `${verb} it`,
          onYes: () => mutate(),
        });
      }
    },
  });
  return {
    undo: act("Undo", undo, edits?.undo ?? null, edits?.undo_id ?? null),
    redo: act("Redo", redo, edits?.redo ?? null, edits?.redo_id ?? null),
  };
}
