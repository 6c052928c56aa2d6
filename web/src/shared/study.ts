import { createContext, use } from "react";

export const StudyContext = createContext<number | null>(null);

/** The id of the study that is open. */
export function useStudyId(): number {
  const id = use(StudyContext);
  if (id === null) throw new Error("No study is open here.");
  return id;
}
