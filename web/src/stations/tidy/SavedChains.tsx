import type { StepOrder } from "../../api/types";
import { SavedPresets } from "../../forms/SavedPresets";
import { plural } from "../../shared/format";

interface Props {
  /** The chain in hand. */
  readonly steps: readonly StepOrder[];
  readonly onChoose: (steps: readonly StepOrder[]) => void;
}

/** Chains that were saved in the study: done again to another map. */
export function SavedChains({ steps, onChoose }: Props) {
  return (
    <SavedPresets
      kind="chain"
      noun="chain"
      words={(content) => plural(stepsIn(content).length, "step")}
      inHand={steps.length > 0 ? { steps } : null}
      onChoose={(content) => onChoose(stepsIn(content))}
    />
  );
}

function stepsIn(content: Record<string, unknown>): readonly StepOrder[] {
  return content["steps"] as readonly StepOrder[];
}
