import { createForStudy } from "./studyStore";

export interface Question {
  title: string;
  words: string;
  /** What the button says that does it. */
  act: string;
  onYes: () => void;
  onNo?: () => void;
}

/** What has to be answered before something is done. */
export const useAsking = createForStudy<{ question: Question | null }>(() => ({ question: null }));

export function askFirst(question: Question): void {
  useAsking.setState({ question });
}
