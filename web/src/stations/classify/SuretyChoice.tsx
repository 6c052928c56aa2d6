import type { Surety } from "../../api/types";
import { CheckList } from "../../shared/CheckList";

const TITLES: Record<Surety[number], string> = {
  confidence: "confidence",
  possible: "classes still possible at 90 %",
  unlike: "unlike anything trained on",
  shares: "share of each class",
};

interface Props {
  readonly give: Surety;
  readonly onGive: (give: Surety) => void;
}

/** What else of each pixel is made a layer beside the map; it costs nothing until it is looked at. */
export function SuretyChoice({ give, onGive }: Props) {
  const kinds = Object.keys(TITLES) as Surety[number][];
  return (
    <CheckList
      title="How sure, as layers beside the map"
      options={kinds.map((kind) => TITLES[kind])}
      chosen={give.map((kind) => TITLES[kind])}
      onChosen={(titles) => onGive(kinds.filter((kind) => titles.includes(TITLES[kind])))}
    />
  );
}
