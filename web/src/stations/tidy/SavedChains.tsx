import type { ClassName, StepOrder } from "../../api/types";
import { SavedPresets } from "../../forms/SavedPresets";
import { plural } from "../../shared/format";

interface Props {
  /** The chain in hand. */
  readonly steps: readonly StepOrder[];
  /** What the codes in it stand for. */
  readonly classes: readonly ClassName[];
  readonly onChoose: (steps: readonly StepOrder[], classes: readonly ClassName[]) => void;
}

/** Chains that were saved in the study: done again to another map. */
export function SavedChains({ steps, classes, onChoose }: Props) {
  return (
    <SavedPresets
      kind="chain"
      noun="chain"
      words={(content) => plural(stepsIn(content).length, "step")}
      inHand={steps.length > 0 ? { steps, classes } : null}
      onChoose={(content) => onChoose(stepsIn(content), classesIn(content))}
    />
  );
}

/** A chain that was saved before its classes were has none. */
function classesIn(content: Record<string, unknown>): readonly ClassName[] {
  return (content["classes"] ?? []) as readonly ClassName[];
}

function stepsIn(content: Record<string, unknown>): readonly StepOrder[] {
  return content["steps"] as readonly StepOrder[];
}
