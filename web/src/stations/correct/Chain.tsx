import { Flex, Text } from "@chakra-ui/react";

import { useCorrections } from "../../api/queries/corrections";
import { Choice } from "../../shared/Choice";
import { OnDemandPopover } from "../../shared/OnDemandPopover";
import { Panel } from "../../shared/Panel";
import { Quiet } from "../../shared/Quiet";
import { SchemaForm } from "../../forms/SchemaForm";
import { useChain } from "./chainStore";
import { useChosenMaps } from "./useChosenScenes";

/** The steps, in the order in which they are done; each form is drawn from its settings. */
export function Chain() {
  const { data: corrections = [] } = useCorrections();
  const { steps, add, change, remove } = useChain();
  const { chosenMaps } = useChosenMaps();
  const kind = chosenMaps.length > 0 ? "classes" : "measured";
  const offered = corrections.filter(({ takes }) => takes.includes(kind));
  return (
    <>
      {steps.length === 0 && (
        <Text color="quiet">
          No step yet. The same chain is done to every chosen scene; what is left open is found in
          each scene by itself.
        </Text>
      )}
      {steps.map((step, i) => {
        const spec = corrections.find((c) => c.id === step.operation);
        if (!spec) return null;
        return (
          <Panel key={step.key} as="section" aria-label={spec.title}>
            <Flex justify="space-between" align="baseline" gap="2">
              <Text fontWeight="650">
                {i + 1}. {spec.title}
              </Text>
              <Quiet type="button" onClick={() => remove(step.key)}>
                Leave out
              </Quiet>
            </Flex>
            <Text color="quiet">{spec.good_for}</Text>
            <SchemaForm
              schema={spec.settings_schema}
              values={step.settings ?? {}}
              onChange={(settings) => change(step.key, settings)}
            />
            <Text color="quiet" mt="2" fontSize="0.92rem">
              {spec.source}
            </Text>
          </Panel>
        );
      })}
      <Flex mt="2">
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
                  add(spec.id);
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
