/** What can be made here; most are operations that the server describes. */
export const KINDS = [
  { id: "index", title: "Index" },
  { id: "formula", title: "Formula" },
  { id: "ratio", title: "Ratio" },
  { id: "composite", title: "Composite" },
  { id: "tasseled-cap", title: "Tasseled cap" },
  { id: "principal-components", title: "Principal components" },
  { id: "noise-fraction", title: "Noise fraction" },
  { id: "texture", title: "Texture" },
  { id: "stack", title: "Stack" },
  { id: "breaks", title: "Class breaks" },
] as const;

export type Kind = (typeof KINDS)[number]["id"];

/** A composite is a stack of three, shown as red, green and blue. */
export function operationOf(kind: Kind): string {
  return kind === "composite" ? "stack" : kind;
}
