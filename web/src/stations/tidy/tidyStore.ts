import type { ClassName } from "../../api/types";
import { type ChainOfSteps, chainOfSteps } from "../../shared/chainOf";
import { createForStudy } from "../../shared/studyStore";

/** What the codes in a chain stand for: the classes of a map; of one that was saved, no map's. */
export interface MadeFor {
  readonly layerId: number | null;
  readonly classes: readonly ClassName[];
}

interface TidyChain extends ChainOfSteps {
  madeFor: MadeFor;
  setMadeFor: (madeFor: MadeFor) => void;
}

/** The steps in hand: the same chain may be done to one map after another. */
export const useTidyChain = createForStudy<TidyChain>((set) => ({
  ...chainOfSteps(set),
  madeFor: { layerId: null, classes: [] },
  setMadeFor: (madeFor) => set({ madeFor }),
}));
