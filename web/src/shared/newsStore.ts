import { createForStudy } from "./studyStore";

interface NewsStore {
  /** Whether the server answers. */
  online: boolean;
  /** Edits that came from other windows since this page was opened. */
  elsewhere: ReadonlySet<number>;
}

/** What the server has told this window of itself and of other windows. */
export const useNewsStore = createForStudy<NewsStore>(() => ({
  online: true,
  elsewhere: new Set(),
}));
