import type { CoefficientTable } from "../../api/types";

/** A table as it is typed: roles above, one component per row. */
export function tableToText({ components }: CoefficientTable): string {
  const roles = components[0]?.weights.map(({ role }) => role) ?? [];
  const rows = components.map(({ name, weights }) => [name, ...weights.map(({ value }) => value)]);
  return [["component", ...roles], ...rows].map((row) => row.join(" ")).join("\n");
}
