import type { ClassMap } from "../../api/types";
import { CheckLines } from "../../shared/CheckLines";
import { Folded } from "../../shared/Folded";
import { Swatch } from "../../shared/Swatch";

interface Props {
  readonly legend: ClassMap["legend"];
  readonly chosen: readonly number[];
  readonly onChosen: (codes: number[]) => void;
  /** What it means that none is chosen. */
  readonly none: string;
  /** Stands before the names. */
  readonly before?: string;
}

/** Some of a map's classes, behind their names. */
export function ClassFold({ legend, chosen, onChosen, none, before = "" }: Props) {
  const names = legend.filter(({ code }) => chosen.includes(code)).map(({ name }) => name);
  const lines = legend.map(({ code, name, colour }) => ({
    id: code,
    label: (
      <>
        <Swatch colour={colour} /> {name}
      </>
    ),
  }));
  return (
    <Folded title={`${before}${names.length > 0 ? names.join(", ") : none}`} mt="0.5">
      <CheckLines lines={lines} chosen={chosen} onChosen={onChosen} />
    </Folded>
  );
}
