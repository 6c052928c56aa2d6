import { useRoles } from "../../../api/queries/vocabulary";
import type { Vocabulary } from "./roles";

const NONE: Vocabulary = new Map();

/** Known roles by their names; empty until they have been read. */
export function useVocabulary(): Vocabulary {
  const { data } = useRoles();
  return data ? new Map(data.map((role) => [role.id, role])) : NONE;
}
