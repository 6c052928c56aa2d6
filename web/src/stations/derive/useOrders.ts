import type { DerivationDraft, DerivationOrder, Scene } from "../../api/types";
import type { Values } from "../../forms/SchemaForm";
import { useDeriveStore } from "./deriveStore";
import { isComplete, ordersOf, quick } from "./orders";
import { useDeriveScene } from "./useDeriveScene";

interface Orders {
  scene: Scene;
  orders: DerivationOrder[];
  /** What is shown while it is being set; null while there is nothing to show. */
  preview: DerivationDraft | null;
}

const NOTHING: Values = {};

/** What the form asks for, as the server takes it. */
export function useOrders(): Orders {
  const { scene } = useDeriveScene();
  const { kind, values: all, made } = useDeriveStore();
  const values = all[kind] ?? NOTHING;
  const orders = ordersOf(kind, values);
  const last = orders.at(-1);
  const from = scene.id;
  if (made || !last || !isComplete(kind, last.settings ?? {})) {
    return { scene, orders: [], preview: null };
  }
  return { scene, orders, preview: { scene_id: from, ...last, settings: quick(last.settings) } };
}
