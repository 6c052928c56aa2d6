import { Field, Text, Textarea } from "@chakra-ui/react";
import { useEffect } from "react";

import { sentenceOf } from "../../api/problem";
import { useReadCoefficients, useSavePreset } from "../../api/queries/deriveAids";
import type { CoefficientTable } from "../../api/types";
import { Remark } from "../../shared/Remark";
import { SaveAs } from "../../shared/SaveAs";
import type { Values } from "../SchemaForm";
import { useStudyId } from "../../shared/study";
import { useDebounced } from "../../shared/useDebounced";
import { CoefficientRows } from "./CoefficientRows";

interface Props {
  readonly values: Values;
  readonly onValues: (values: Values) => void;
  readonly onOwn: (table: CoefficientTable, name: string) => void;
}

/** A table that is typed or pasted: read as it stands, with what is unusual about it. */
export function OwnCoefficients({ values, onValues, onOwn }: Props) {
  const text = typeof values["text"] === "string" ? values["text"] : "";
  const save = useSavePreset(useStudyId());
  const settled = useDebounced(text, 250);
  const { data, error } = useReadCoefficients(settled);
  const read = settled.trim() === "" || error ? undefined : data;
  const setText = (next: string) => onValues({ ...values, coefficients: "own", text: next });
  useEffect(() => {
    if (read && values["table"] !== read.table) {
      onValues({ ...values, coefficients: "own", table: read.table });
    }
  }, [read, values, onValues]);
  return (
    <>
      <Field.Root mt="2">
        <Field.Label>Table</Field.Label>
        <Textarea
          size="sm"
          bg="card"
          rows={5}
          fontFamily="mono"
          fontSize="0.92em"
          spellCheck={false}
          placeholder={"component blue green red nir\nbrightness 0.3 0.3 0.5 0.6"}
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Field.HelperText color="quiet">
          Type or paste: roles in the first row, one component per row below.
        </Field.HelperText>
      </Field.Root>
      {error && settled.trim() !== "" && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {read && (
        <>
          <CoefficientRows table={read.table} />
          {read.remarks.map((remark) => (
            <Remark key={remark} tone="caution">
              {remark}
            </Remark>
          ))}
          {read.remarks.length === 0 && (
            <Text color="quiet">All of length 1 and at right angles to one another.</Text>
          )}
          <SaveAs
            label="Name to save the table under"
            placeholder="Save the table as …"
            saving={save.isPending}
            onSave={(name) =>
              save.mutate(
                { kind: "coefficients", name, content: { ...read.table } },
                { onSuccess: () => onOwn(read.table, name) },
              )
            }
          />
        </>
      )}
    </>
  );
}
