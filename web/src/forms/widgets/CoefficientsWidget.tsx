import { Text } from "@chakra-ui/react";

import { useCoefficientSets, usePresets } from "../../api/queries/deriveAids";
import type { CoefficientSet, CoefficientTable } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { type Option, Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useFormScene } from "../subject";
import { CoefficientRows } from "./CoefficientRows";
import { OwnCoefficients } from "./OwnCoefficients";
import { tableToText } from "./tableToText";

type TakeOwn = (table: CoefficientTable, name: string) => void;

/** The set published for the scene's sensor, or a table of the analyst's own. */
export function CoefficientsWidget({ field, value, values, onChange, onValues }: WidgetProps) {
  const scene = useFormScene();
  const { data: sets = [] } = useCoefficientSets(scene.id);
  const fitting = sets.find((one) => one.fits);
  const chosen = value === "own" ? undefined : (sets.find((one) => one.id === value) ?? fitting);
  const takeOwn: TakeOwn = (table, name) =>
    onValues({ coefficients: "own", own_name: name, table, text: tableToText(table) });
  return (
    <>
      <SetSelect
        label={field.title ?? "Coefficients"}
        help={field.description ?? ""}
        sets={sets}
        value={chosen?.id ?? "own"}
        onSet={onChange}
        onOwn={takeOwn}
      />
      {chosen && (
        <>
          <CoefficientRows table={chosen.table} />
          <Text color="quiet">{chosen.source}</Text>
          <Quiet type="button" onClick={() => takeOwn(chosen.table, chosen.title)}>
            Copy into a table of my own
          </Quiet>
        </>
      )}
      {!chosen && sets.length > 0 && (
        <OwnCoefficients values={values} onValues={onValues} onOwn={takeOwn} />
      )}
    </>
  );
}

interface SelectProps {
  readonly label: string;
  readonly help: string;
  readonly sets: readonly CoefficientSet[];
  readonly value: string;
  readonly onSet: (id: string) => void;
  readonly onOwn: TakeOwn;
}

function SetSelect({ label, help, sets, value, onSet, onOwn }: SelectProps) {
  const { data: presets = [] } = usePresets(useStudyId());
  const saved = presets.filter(({ kind }) => kind === "coefficients");
  const options: Option[] = [
    ...sets.map(({ id, fits, title, reason }) => ({
      value: id,
      label: fits ? title : `${title}: ${reason}`,
    })),
    ...saved.map(({ id, name }) => ({ value: `saved:${id}`, label: `saved: ${name}` })),
    { value: "own", label: "a table of my own" },
  ];
  const choose = (id: string) => {
    const preset = saved.find((one) => `saved:${one.id}` === id);
    if (preset) onOwn(preset.content as CoefficientTable, preset.name);
    else onSet(id);
  };
  return <Select label={label} help={help} value={value} options={options} onValue={choose} />;
}
