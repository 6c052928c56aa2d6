import type { DerivationOrder } from "../../api/types";
import type { Values } from "../../forms/SchemaForm";
import { type Kind, operationOf } from "./kinds";

/** What the form of a kind asks for; nothing while something is missing. */
export function ordersOf(kind: Kind, values: Values): DerivationOrder[] {
  if (kind === "breaks") return [];
  if (kind === "index") {
    const constants = (values["constants"] ?? {}) as Record<string, Values>;
    const indices = (values["index"] ?? []) as readonly string[]; // the one looked at last
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

export function isComplete(kind: Kind, settings: Values): boolean {
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
export function quick(settings: Values | undefined): Values {
  return settings?.["pixels"] === "every" ? { ...settings, pixels: "view" } : (settings ?? {});
}
