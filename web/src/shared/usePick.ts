import { useClasses } from "../api/queries/training";
import type { LandClass } from "../api/types";
import { useStudyId } from "./study";
import { useWork } from "./workStore";

/** The class that is drawn now: the one picked, else the first. */
export function useActiveClass(): LandClass | null {
  const { data } = useClasses(useStudyId());
  const classId = useWork((store) => store.classId);
  return data?.find((c) => c.id === classId) ?? data?.[0] ?? null;
}
