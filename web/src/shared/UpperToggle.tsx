import { Toggle } from "./Toggle";
import { useHasLevels } from "./useHasLevels";

interface Props {
  readonly upper: boolean;
  readonly onUpper: (upper: boolean) => void;
}

/** Whether a table is told at the upper level of the class scheme, where there is one. */
export function UpperToggle({ upper, onUpper }: Props) {
  if (!useHasLevels()) return null;
  return <Toggle label="By the classes above" on={upper} onClick={() => onUpper(!upper)} />;
}
