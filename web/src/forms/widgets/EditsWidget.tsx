import { Box, Flex, Input, Text } from "@chakra-ui/react";

import { AreaList } from "../../shared/AreaList";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { useWork } from "../../shared/workStore";
import type { WidgetProps } from "../SchemaForm";
import { useLegend } from "../subject";
import { type Becomes, BecomesSelect, useFirstClass } from "./BecomesSelect";
import { ClassFold } from "./ClassFold";
import { Item } from "./Item";
import { itemActs } from "./items";
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
  const { put, drop, add } = itemActs(edits, onChange);
  const areas = useWork((store) => store.areas);
  const set = useWork((store) => store.set);
  const first = useFirstClass();
  const take = () => {
    add(...areas.map(({ outline }) => ({ outline: { ...outline }, becomes: first, note: "" })));
    set({ areas: [], areaTool: null });
  };
  return (
    <>
      <WidgetLabel field={field} />
      {edits.map((edit, i) => (
        <Item key={i} title={`Edit ${i + 1}`} onRemove={() => drop(i)}>
          <EditForm number={i + 1} edit={edit} onEdit={(next) => put(i, next)} />
        </Item>
      ))}
      <Box mt="2">
        <AreaList />
      </Box>
      <Flex mt="1">
        <Quiet type="button" disabled={areas.length === 0} onClick={take}>
          {areas.length === 0
            ? "Draw or paint an area, to edit it"
            : `Edit ${plural(areas.length, "area")}`}
        </Quiet>
      </Flex>
    </>
  );
}

interface FormProps {
  readonly number: number;
  readonly edit: Edit;
  readonly onEdit: (edit: Edit) => void;
}

function EditForm({ number, edit, onEdit }: FormProps) {
  const legend = useLegend();
  return (
    <>
      <ClassFold
        legend={legend}
        chosen={edit.classes ?? []}
        onChosen={(classes) => onEdit({ ...edit, classes })}
        none="all classes"
        before="Of "
      />
      <Flex gap="2" align="center" mt="1">
        <Text>becomes</Text>
        <BecomesSelect
          label={`Edit ${number} becomes`}
          value={edit.becomes}
          onValue={(becomes) => onEdit({ ...edit, becomes })}
        />
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
    </>
  );
}
