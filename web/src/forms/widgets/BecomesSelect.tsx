import { useClasses } from "../../api/queries/training";
import { UNCLASSIFIED_CODE } from "../../shared/classCode";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useLegend } from "../subject";

/** A class by its code; one that the map has not brings its name and colour. */
export interface Becomes {
  code: number;
  name?: string;
  colour?: string;
}

interface Props {
  readonly label: string;
  readonly value: Becomes;
  readonly onValue: (value: Becomes) => void;
}

const UNCLASSIFIED = { code: UNCLASSIFIED_CODE, name: "Unclassified", colour: "#8d8d8d" };

/** What pixels become: a class of the map, another one of the study, or unclassified. */
export function BecomesSelect({ label, value, onValue }: Props) {
  const legend = useLegend();
  const { data: classes = [] } = useClasses(useStudyId());
  const more = [...classes, UNCLASSIFIED].filter(
    (one) => !legend.some(({ code, name }) => code === one.code || name === one.name),
  );
  const all = [...legend, ...more];
  return (
    <Select
      label={label}
      hideLabel
      width="9.5rem"
      value={String(value.code)}
      options={all.map(({ code, name }) => ({ value: String(code), label: name }))}
      onValue={(text) => {
        const found = all.find(({ code }) => String(code) === text);
        if (found) onValue({ code: found.code, name: found.name, colour: found.colour });
      }}
    />
  );
}

/** What a new rule or edit makes of pixels, until it is said. */
export function useFirstClass(): Becomes {
  const [first = UNCLASSIFIED] = useLegend();
  return { code: first.code, name: first.name, colour: first.colour };
}
