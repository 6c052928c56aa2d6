import { Box, Flex, Input, Text } from "@chakra-ui/react";

import { AreaList } from "../../shared/AreaList";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { useWork } from "../../shared/workStore";
import type { WidgetProps } from "../SchemaForm";
import { useLegend } from "../subject";
import { type Becomes, BecomesSelect, useFirstClass } from "./BecomesSelect";
import { ClassFold } from "./ClassFold";
import { WidgetLabel } from "./WidgetLabel";

interface Edit {
  outline: Record<string, unknown>;
  becomes: Becomes;
  classes?: number[];
  note?: string;
}

/** Drawn areas, what each becomes, and why. */
export function EditsWidget({ field, value, onChange }: WidgetProps) {
  const edits = Array.isArray(value) ? (value as Edit[]) : [];
  const areas = useWork((store) => store.areas);
  const set = useWork((store) => store.set);
  const first = useFirstClass();
  const take = () => {
    onChange([
      ...edits,
      ...areas.map(({ outline }) => ({ outline: { ...outline }, becomes: first, note: "" })),
    ]);
    set({ areas: [], areaTool: null });
  };
  return (
    <>
      <WidgetLabel field={field} />
      {edits.map((edit, i) => (
        <EditForm
          // Edits have no names: their place is what they are called by.
          key={i}
          number={i + 1}
          edit={edit}
          onEdit={(next) => onChange(edits.map((one, at) => (at === i ? next : one)))}
          onRemove={() => onChange(edits.filter((_, at) => at !== i))}
        />
      ))}
      <Box mt="2">
        <AreaList />
      </Box>
      <Flex mt="1">
        <Quiet type="button" disabled={areas.length === 0} onClick={take}>
          {areas.length === 0 ? "Draw an area, to edit it" : `Edit ${plural(areas.length, "area")}`}
        </Quiet>
      </Flex>
    </>
  );
}

interface FormProps {
  readonly number: number;
  readonly edit: Edit;
  readonly onEdit: (edit: Edit) => void;
  readonly onRemove: () => void;
}

function EditForm({ number, edit, onEdit, onRemove }: FormProps) {
  const legend = useLegend();
  return (
    <Box as="fieldset" mt="2" pl="2" borderLeftWidth="2px" borderColor="line">
      <Flex gap="2" align="center">
        <Text as="legend" fontWeight="600">
          Edit {number}
        </Text>
        <Text>becomes</Text>
        <BecomesSelect
          label={`Edit ${number} becomes`}
          value={edit.becomes}
          onValue={(becomes) => onEdit({ ...edit, becomes })}
        />
        <Quiet type="button" aria-label={`Leave out edit ${number}`} onClick={onRemove}>
          Leave out
        </Quiet>
      </Flex>
      <Input
        size="xs"
        mt="1"
        bg="card"
        aria-label={`Note on edit ${number}`}
        placeholder="Why"
        maxLength={500}
        value={edit.note ?? ""}
        onChange={({ currentTarget }) => onEdit({ ...edit, note: currentTarget.value })}
      />
      <ClassFold
        legend={legend}
        chosen={edit.classes ?? []}
        onChosen={(classes) => onEdit({ ...edit, classes })}
        none="all classes"
        before="Of "
      />
    </Box>
  );
}
