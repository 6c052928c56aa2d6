import { Text } from "@chakra-ui/react";

import { useDerivations } from "../../api/queries/derive";
import { SchemaForm, type Values } from "../../forms/SchemaForm";
import { FormSubject } from "../../forms/subject";
import { CompositeForm } from "./CompositeForm";
import { useDeriveStore } from "./deriveStore";
import { operationOf } from "./kinds";
import { useDeriveScene } from "./useDeriveScene";

const NOTHING: Values = {};

/** The form of what is being made, drawn from its settings. */
export function OperationForm() {
  const { data = [] } = useDerivations();
  const { kind, values, setValues } = useDeriveStore();
  const { scene, scenes } = useDeriveScene();
  const spec = data.find((one) => one.id === operationOf(kind));
  if (!spec) return null;
  return (
    <>
      <Text color="quiet" mt="2.5">
        {kind === "composite"
          ? "Any three layers as red, green and blue; covers with other ratios get other colours."
          : spec.good_for}
        {spec.native_side !== null && nativeWords(spec.native_side)}
      </Text>
      {kind === "composite" ? (
        <CompositeForm />
      ) : (
        <FormSubject value={{ scenes, chosen: [scene] }}>
          <SchemaForm
            schema={spec.settings_schema}
            values={values[kind] ?? NOTHING}
            onChange={(next) => setValues(kind, next)}
          />
        </FormSubject>
      )}
    </>
  );
}

function nativeWords(side: number): string {
  return (
    " Computed at native resolution: it looks at each pixel’s neighbours. More than " +
    `${side} × ${side} pixels at once are not shown until you zoom in or keep the layer.`
  );
}
