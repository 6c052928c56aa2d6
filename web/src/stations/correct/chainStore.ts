import { type ChainOfSteps, chainOfSteps } from "../../shared/chainOf";
import { createForStudy } from "../../shared/studyStore";

interface ChainStore extends ChainOfSteps {
  /** Scenes and class maps that the steps are done to. */
  layerIds: readonly number[];
  toggle: (layerId: number) => void;
  choose: (layerIds: readonly number[]) => void;
}

/** The chain of steps in hand and the layers it is for. */
export const useChain = createForStudy<ChainStore>((set) => ({
  ...chainOfSteps(set),
  layerIds: [],
  toggle: (id) =>
    set(({ layerIds }) => ({
      layerIds: layerIds.includes(id) ? layerIds.filter((s) => s !== id) : [...layerIds, id],
    })),
  choose: (layerIds) => set({ layerIds }),
}));
