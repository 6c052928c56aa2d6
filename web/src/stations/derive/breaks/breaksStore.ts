import type { BreakRow, BreakTable } from "../../../api/types";
import { createForStudy } from "../../../shared/studyStore";

/** A row as it stands in the form; its key stays while its numbers change. */
export interface DraftRow extends BreakRow {
  key: number;
}

interface BreaksStore {
  /** Of which scene or derived layer; null: of the scene that layers are made from. */
  sceneId: number | null;
  role: string | null;
  rows: readonly DraftRow[];
  included: "lower" | "upper";
  outer: boolean;
  setLayer: (sceneId: number | null, role: string) => void;
  setTable: (table: BreakTable) => void;
  setRows: (rows: readonly DraftRow[]) => void;
  set: (part: Partial<Pick<BreaksStore, "included" | "outer">>) => void;
}

/** The table of class breaks while it is set. */
export const useBreaksStore = createForStudy<BreaksStore>((set) => ({
  sceneId: null,
  role: null,
  rows: [],
  included: "lower",
  outer: true,
  setLayer: (sceneId, role) => set({ sceneId, role, rows: [] }),
  setTable: ({ rows }) => set({ rows: rows.map((row, key) => ({ ...row, key })) }),
  setRows: (rows) => set({ rows }),
  set: (part) => set(part),
}));

/** The table as the server takes it; null while it has no row. */
export function tableOf({ rows, included, outer }: BreaksStore): BreakTable | null {
  if (rows.length === 0) return null;
  const plain = rows.map(({ code, name, colour, low, high }) => ({
    code,
    name,
    colour,
    low,
    high,
  }));
  return { rows: plain, included, outer_included: outer } as BreakTable;
}
