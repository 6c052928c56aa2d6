import { Button, Text } from "@chakra-ui/react";

import { Problem, sentenceOf } from "../../api/problem";
import { useUndefinedPixels } from "../../api/queries/derive";
import type { Scene } from "../../api/types";
import { formatCount, formatPercent } from "../../shared/format";
import { Remark } from "../../shared/Remark";
import { useLate } from "../../shared/useLate";
import { ComponentFacts } from "./ComponentFacts";
import { useDeriveStore } from "./deriveStore";
import { RelationFacts } from "./RelationFacts";
import { SharpenFacts } from "./SharpenFacts";
import { useDeriveScene } from "./useDeriveScene";
import { usePreview } from "./usePreview";

/** What is found out about the layer while it is set, and what is wrong with it. */
export function DraftFacts() {
  const { draft, error, busy } = usePreview();
  const late = useLate(busy);
  const { scene } = useDeriveScene();
  const { kind } = useDeriveStore();
  return (
    <>
      {late && (
        <Text color="quiet" mt="2" role="status">
          Working …
        </Text>
      )}
      {error && <Trouble error={error} />}
      {scene.quantity === "numbers" && kind === "index" && (
        <Remark tone="caution">
          {scene.title} holds numbers as delivered. Indices are meant for reflectance: convert it in
          Correct first.
        </Remark>
      )}
      {draft && <UndefinedPixels scene={draft} />}
      {draft && isOf(draft, "principal-components", "noise-fraction") && (
        <ComponentFacts scene={draft} />
      )}
      {draft && isOf(draft, "sharpen") && <SharpenFacts scene={draft} />}
      {draft && isOf(draft, "stack") && <RelationFacts scene={draft} />}
    </>
  );
}

/** The last preview stays while the next one is made: it may be of another kind. */
function isOf(draft: Scene, ...operations: string[]): boolean {
  return operations.includes(draft.steps[0]?.operation ?? "");
}

/** Where grids differ, bringing one onto the other is offered. */
function Trouble({ error }: { readonly error: Error }) {
  const { kind, values, setValues } = useDeriveStore();
  const code = error instanceof Problem ? error.code : "";
  if (code === "formula") return null; // said at its place in the text
  return (
    <Remark tone="problem">
      {sentenceOf(error)}
      {code === "grid-mismatch" && kind !== "composite" && (
        <Button
          mt="1.5"
          size="xs"
          variant="outline"
          borderColor="line"
          onClick={() => setValues(kind, { ...values[kind], align: true })}
        >
          Bring it onto this grid
        </Button>
      )}
    </Remark>
  );
}

function UndefinedPixels({ scene }: { readonly scene: Scene }) {
  const { data } = useUndefinedPixels(scene.id);
  if (!data || data.n_undefined === 0) return null;
  return (
    <Remark tone="caution">
      {formatCount(data.n_undefined)} of {formatCount(data.n_usable)} usable pixels (
      {shareOf(data.n_undefined / data.n_usable)}
      {data.exact ? "" : ", of pixels spread over it"}) have no value: division by zero, or a root
      or logarithm of a negative. <Text as="span">They become no data.</Text>
    </Remark>
  );
}

function shareOf(share: number): string {
  return share < 0.0005 ? "less than 0.1 %" : formatPercent(share);
}
