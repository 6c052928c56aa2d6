import { useDerivations } from "../../api/queries/derive";

/** What can be made here: an operation that the server describes, or one of our own below. */
export type Kind = string;

/** Not operations of their own: a composite is a stack of three shown as red, green and blue; class
 * breaks make a map. */
const OWN = [
  { id: "composite", title: "Composite" },
  { id: "breaks", title: "Class breaks" },
];

/** The usual ones first; operations that are not named here stand between. */
const FIRST: readonly Kind[] = [
  "index",
  "formula",
  "ratio",
  "composite",
  "tasseled-cap",
  "principal-components",
];
const LAST: readonly Kind[] = ["stack", "breaks"];

export function useKinds(): { id: Kind; title: string }[] {
  const { data = [] } = useDerivations();
  return [...OWN, ...data].sort((a, b) => placeOf(a.id) - placeOf(b.id));
}

function placeOf(kind: Kind): number {
  const first = FIRST.indexOf(kind);
  return first >= 0 ? first : FIRST.length + 1 + LAST.indexOf(kind);
}

export function operationOf(kind: Kind): string {
  return kind === "composite" ? "stack" : kind;
}
