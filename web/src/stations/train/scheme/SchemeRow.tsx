import { Box, chakra, Flex, IconButton, Input, Text } from "@chakra-ui/react";
import { ChevronDown, ChevronUp, GripVertical } from "lucide-react";

import { useUpdateClass } from "../../../api/queries/edits";
import type { LandClass } from "../../../api/types";
import { isClassCode } from "../../../shared/classCode";
import { NumberField } from "../../../shared/NumberField";
import { Select } from "../../../shared/Select";
import { useStudyId } from "../../../shared/study";
import { ClassActs } from "./ClassActs";
import type { RowDrag } from "./useDragOrder";

interface Props {
  readonly row: LandClass;
  readonly classes: readonly LandClass[];
  readonly nSites: number;
  readonly place: number;
  readonly drag: RowDrag;
  readonly onMove: (by: -1 | 1) => void;
}

/** One class, changed in place: each field by itself, when it is left. */
export function SchemeRow({ row, classes, nSites, place, drag, onMove }: Props) {
  const update = useUpdateClass(useStudyId());
  const { id, name, code, colour, description, parent_id } = row;
  const parents = classes.filter((one) => one.id !== id && one.parent_id === null);
  const hasChildren = classes.some((one) => one.parent_id === id);
  return (
    <Flex
      role="listitem"
      aria-label={name}
      gap="2"
      px="1"
      py="1"
      align="center"
      borderTopWidth="1px"
      borderColor={drag.isTarget ? "cool" : "line"}
      ps={parent_id === null ? "1" : "4"}
      {...drag.row}
    >
      <Flex width="4.6rem" flex="none" align="center">
        <chakra.span cursor="grab" color="quiet" title="Drag to another place" {...drag.handle}>
          <GripVertical size={16} />
        </chakra.span>
        <Arrow label={`Move ${name} up`} disabled={place === 0} onClick={() => onMove(-1)}>
          <ChevronUp />
        </Arrow>
        <Arrow
          label={`Move ${name} down`}
          disabled={place === classes.length - 1}
          onClick={() => onMove(1)}
        >
          <ChevronDown />
        </Arrow>
      </Flex>
      <Box width="5.4rem" flex="none">
        <CodeField
          key={code}
          row={row}
          taken={classes.filter((one) => one.id !== id).map((one) => one.code)}
        />
      </Box>
      <Input
        key={`colour ${colour}`}
        type="color"
        size="xs"
        width="3rem"
        p="0.5"
        aria-label={`Colour of ${name}`}
        defaultValue={colour}
        onBlur={({ currentTarget }) => {
          if (currentTarget.value !== colour) update.mutate({ id, colour: currentTarget.value });
        }}
      />
      <TextCell
        label={`Name of ${name}`}
        value={name}
        flex="1.2"
        maxLength={80}
        onText={(text) => {
          if (text !== "") update.mutate({ id, name: text });
        }}
      />
      <TextCell
        label={`What belongs to ${name}`}
        value={description}
        flex="2"
        maxLength={400}
        onText={(text) => update.mutate({ id, description: text })}
      />
      <Select
        label={`${name} is reported under`}
        hideLabel
        width="8.6rem"
        value={String(parent_id ?? "")}
        options={[
          { value: "", label: hasChildren ? "its own kinds" : "itself" },
          ...(hasChildren
            ? []
            : parents.map((one) => ({ value: String(one.id), label: one.name }))),
        ]}
        onValue={(value) => update.mutate({ id, parent_id: value === "" ? null : Number(value) })}
      />
      <Text width="2.4rem" flex="none" textAlign="end">
        {nSites}
      </Text>
      <ClassActs row={row} classes={classes} nSites={nSites} />
    </Flex>
  );
}

function CodeField({ row, taken }: { readonly row: LandClass; readonly taken: number[] }) {
  const update = useUpdateClass(useStudyId());
  return (
    <NumberField
      label={`Code of ${row.name}`}
      width="100%"
      step={1}
      value={row.code}
      whenLeft
      isGood={(code) => isClassCode(code) && !taken.includes(code)}
      problem="1 to 65 535, not 255, each once"
      onNumber={(code) => {
        if (code !== row.code) update.mutate({ id: row.id, code });
      }}
    />
  );
}

interface ArrowProps {
  readonly label: string;
  readonly disabled: boolean;
  readonly onClick: () => void;
  readonly children: React.ReactNode;
}

function Arrow({ label, disabled, onClick, children }: ArrowProps) {
  return (
    <IconButton
      size="2xs"
      variant="ghost"
      color="quiet"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </IconButton>
  );
}

interface CellProps {
  readonly label: string;
  readonly value: string;
  readonly flex: string;
  readonly maxLength: number;
  readonly onText: (text: string) => void;
}

/** A text that is taken when its field is left. */
function TextCell({ label, value, flex, maxLength, onText }: CellProps) {
  return (
    <Input
      key={value}
      size="xs"
      bg="card"
      flex={flex}
      minW="0"
      aria-label={label}
      maxLength={maxLength}
      defaultValue={value}
      onBlur={({ currentTarget }) => {
        const text = currentTarget.value.trim();
        if (text !== value) onText(text);
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}
