import { Flex, Text } from "@chakra-ui/react";

import type { Operation, StepOrder } from "../api/types";
import { Choice } from "../shared/Choice";
import { OnDemandPopover } from "../shared/OnDemandPopover";
import { Panel } from "../shared/Panel";
import { Quiet } from "../shared/Quiet";
import { SchemaForm, type Values } from "./SchemaForm";

interface Props {
  readonly operations: readonly Operation[];
  /** Those that can be added. */
  readonly offered: readonly Operation[];
  readonly steps: readonly (StepOrder & { key: number })[];
  /** Of steps that do not fit what is in hand: they can only be left out. */
  readonly withoutForms?: boolean;
  readonly onAdd: (operation: string) => void;
  readonly onChange: (key: number, settings: Values) => void;
  readonly onRemove: (key: number) => void;
}

/** The steps of a chain in the order in which they are done, each with its form, and one more. */
export function StepForms(props: Props) {
  const { operations, offered, steps, withoutForms = false, onAdd, onChange, onRemove } = props;
  return (
    <>
      {steps.map((step, i) => {
        const spec = operations.find((one) => one.id === step.operation);
        if (!spec) return null;
        return (
          <Panel key={step.key} as="section" aria-label={spec.title}>
            <Flex justify="space-between" align="baseline" gap="2">
              <Text fontWeight="650">
                {i + 1}. {spec.title}
              </Text>
              <Quiet type="button" onClick={() => onRemove(step.key)}>
                Leave out
              </Quiet>
            </Flex>
            {!withoutForms && (
              <>
                <Text color="quiet">{spec.good_for}</Text>
                <SchemaForm
                  schema={spec.settings_schema}
                  values={step.settings ?? {}}
                  onChange={(settings) => onChange(step.key, settings)}
                />
                <Text color="quiet" mt="2" fontSize="0.92rem">
                  {spec.source}
                </Text>
              </>
            )}
          </Panel>
        );
      })}
      <Flex mt="2" hidden={withoutForms}>
        <OnDemandPopover
          button={<Quiet type="button">Add a step</Quiet>}
          placement="bottom-start"
          width="20rem"
        >
          {(close) =>
            offered.map((spec) => (
              <Choice
                key={spec.id}
                title={spec.title}
                note={spec.good_for}
                chosen={false}
                onChoose={() => {
                  onAdd(spec.id);
                  close();
                }}
              />
            ))
          }
        </OnDemandPopover>
      </Flex>
    </>
  );
}
