import type { DerivationDraft, DerivationOrder, Scene } from "../../api/types";
import type { Values } from "../../shared/SchemaForm";
import { useDeriveStore } from "./deriveStore";
import { type Kind, operationOf } from "./kinds";
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
  const { kind, values: all, indices, made } = useDeriveStore();
  const values = all[kind] ?? NOTHING;
  const orders = ordersOf(kind, values, indices);
  const last = orders.at(-1);
  const from = scene.id;
  if (made || !last || !isComplete(kind, last.settings ?? {})) {
    return { scene, orders: [], preview: null };
  }
  return { scene, orders, preview: { scene_id: from, ...last, settings: quick(last.settings) } };
}

function ordersOf(kind: Kind, values: Values, indices: readonly string[]): DerivationOrder[] {
  if (kind === "breaks") return [];
  if (kind === "index") {
    const constants = (values["constants"] ?? {}) as Record<string, Values>;
    return indices.map((index) => ({
      operation: "index",
      settings: { index, constants: constants[index] ?? {} },
    }));
  }
  return [{ operation: operationOf(kind), settings: settingsOf(kind, values) }];
}

/** Without what only the form remembers. */
function settingsOf(kind: Kind, values: Values): Values {
  if (kind === "composite") return { members: values["members"] ?? [] };
  if (kind === "tasseled-cap") {
    const { coefficients, own_name, table } = values;
    return coefficients === "own" ? { coefficients, own_name, table } : { coefficients };
  }
  return values;
}

function isComplete(kind: Kind, settings: Values): boolean {
  switch (kind) {
    case "formula":
      return typeof settings["formula"] === "string" && settings["formula"].trim() !== "";
    case "stack":
      return Array.isArray(settings["members"]) && settings["members"].length > 0;
    case "composite":
      return Array.isArray(settings["members"]) && settings["members"].length === 3;
    case "tasseled-cap":
      return settings["coefficients"] !== "own" || settings["table"] !== undefined;
    default:
      return true;
  }
}

/** A preview never waits for every pixel to be counted. */
function quick(settings: Values | undefined): Values {
  return settings?.["pixels"] === "every" ? { ...settings, pixels: "view" } : (settings ?? {});
}
