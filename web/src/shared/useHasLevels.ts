import { useClasses } from "../api/queries/training";
import { useStudyId } from "./study";

/** Whether some classes of the scheme are reported under others. */
export function useHasLevels(): boolean {
  const { data: classes = [] } = useClasses(useStudyId());
  return classes.some(({ parent_id }) => parent_id !== null);
}
