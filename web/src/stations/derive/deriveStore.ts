import type { Values } from "../../forms/SchemaForm";
import type { Kind } from "./kinds";
import { createForStudy } from "../../shared/studyStore";

interface DeriveStore {
  /** The scene that layers are made from; null: the one that is worked on. */
  sceneId: number | null;
  kind: Kind;
  /** Settings of each kind, kept while another one is in hand; of indices all that are ticked. */
  values: Partial<Record<Kind, Values>>;
  /** Other scenes that get the same. */
  also: readonly number[];
  /** What is set has been made: it is not previewed again until something changes. */
  made: boolean;
  from: (sceneId: number) => void;
  choose: (kind: Kind) => void;
  setValues: (kind: Kind, values: Values) => void;
  setAlso: (also: readonly number[]) => void;
  finish: () => void;
}

/** What is being made; it stays while other stations are looked at. */
export const useDeriveStore = createForStudy<DeriveStore>((set) => ({
  sceneId: null,
  kind: "index",
  values: {},
  also: [],
  made: false,
  from: (sceneId) => set({ sceneId, also: [], made: false }),
  choose: (kind) => set({ kind, made: false }),
  setValues: (kind, values) =>
    set((store) => ({ values: { ...store.values, [kind]: values }, made: false })),
  setAlso: (also) => set({ also, made: false }),
  finish: () =>
    set(({ values }) => ({
      values: { ...values, index: { ...values.index, index: [] } },
      also: [],
      made: true,
    })),
}));
