import { Box, Field, Text, Textarea } from "@chakra-ui/react";
import { useRef } from "react";

import { useFormulaCheck } from "../../api/queries/deriveAids";
import type { FormulaCheck } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { useStudyId } from "../../shared/study";
import { Typeset } from "../../shared/Typeset";
import { useDebounced } from "../../shared/useDebounced";
import { useFormScene } from "../subject";
import { FormulaWords } from "./FormulaWords";
import { SavedFormulas } from "./SavedFormulas";

const PAUSE_MS = 60;

/** A formula in roles and layers, checked while it is typed. */
export function FormulaWidget({ field, value, onChange }: WidgetProps) {
  const area = useRef<HTMLTextAreaElement>(null);
  const text = typeof value === "string" ? value : "";
  const scene = useFormScene();
  const settled = useDebounced(text, PAUSE_MS);
  const { data } = useFormulaCheck(useStudyId(), scene.id, settled);
  const check = settled.trim() === "" ? undefined : data;
  const insert = (words: string) => {
    const { selectionStart: from = text.length, selectionEnd: to = text.length } =
      area.current ?? {};
    onChange(text.slice(0, from) + words + text.slice(to));
    area.current?.focus();
  };
  const replace = ({ start, end, instead }: FormulaCheck) =>
    onChange(settled.slice(0, start) + (instead ?? "") + settled.slice(end));
  return (
    <>
      <Field.Root invalid={check?.problem != null}>
        <Field.Label>{field.title}</Field.Label>
        <Textarea
          ref={area}
          size="sm"
          bg="card"
          rows={3}
          fontFamily="mono"
          spellCheck={false}
          placeholder="(nir - red) / (nir + red)"
          value={text}
          onChange={(event) => onChange(event.currentTarget.value)}
        />
      </Field.Root>
      {check?.problem != null && (
        <Box role="alert" mt="1">
          <Marked text={settled} start={check.start} end={check.end} />
          <Text color="warmText">
            {check.problem}{" "}
            {check.instead !== null && (
              <Quiet type="button" onClick={() => replace(check)}>
                Write {check.instead}
              </Quiet>
            )}
          </Text>
        </Box>
      )}
      {check?.mathml != null && <Typeset mathml={check.mathml} />}
      <FormulaWords onInsert={insert} />
      <SavedFormulas text={text} good={check?.problem === null} onChoose={onChange} />
    </>
  );
}

interface MarkedProps {
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

/** The place of the mistake in the text around it. */
function Marked({ text, start, end }: MarkedProps) {
  const from = Math.max(0, start - 24);
  return (
    <Text fontFamily="mono" fontSize="0.92em" overflowWrap="anywhere">
      {from > 0 && "… "}
      {text.slice(from, start)}
      <mark style={{ background: "var(--chakra-colors-warm)", color: "white" }}>
        {text.slice(start, Math.max(end, start + 1)) || "␣"}
      </mark>
      {text.slice(Math.max(end, start + 1), end + 24)}
    </Text>
  );
}
