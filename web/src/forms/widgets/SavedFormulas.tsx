import { SavedPresets } from "../SavedPresets";

interface Props {
  readonly text: string;
  /** It can be read, and so be saved. */
  readonly good: boolean;
  readonly onChoose: (text: string) => void;
}

/** Formulas that were saved in the study. */
export function SavedFormulas({ text, good, onChoose }: Props) {
  return (
    <SavedPresets
      kind="formula"
      noun="formula"
      words={(content) => String(content["formula"])}
      inHand={good ? { formula: text } : null}
      onChoose={(content) => onChoose(String(content["formula"]))}
    />
  );
}
