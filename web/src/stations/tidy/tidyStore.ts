import { type ChainOfSteps, chainOfSteps } from "../../shared/chainOf";
import { createForStudy } from "../../shared/studyStore";

/** The steps in hand: the same chain may be done to one map after another. */
export const useTidyChain = createForStudy<ChainOfSteps>((set) => chainOfSteps(set));
