import { Box, Text } from "@chakra-ui/react";

import { SchemaForm } from "../../forms/SchemaForm";
import type { MethodInHand } from "../../shared/method";
import { NumberField } from "../../shared/NumberField";

const MOST_SEED = 2 ** 31 - 1;

interface SettingsProps {
  /** A classifier, or a clustering method. */
  readonly method: {
    readonly settings_schema: Record<string, unknown>;
    readonly draws: boolean;
    readonly source: string;
  };
  readonly inHand: MethodInHand;
  readonly onChange: (next: MethodInHand) => void;
}

/** All that can be set of a method, and where it comes from. */
export function MethodSettings({ method, inHand, onChange }: SettingsProps) {
  return (
    <>
      <SchemaForm
        schema={method.settings_schema}
        values={inHand.settings}
        onChange={(settings) => onChange({ ...inHand, settings })}
      />
      {method.draws && (
        <Box mt="2.5">
          <Text fontWeight="500">Seed</Text>
          <NumberField
            label="Seed"
            value={inHand.seed}
            isGood={(seed) => Number.isSafeInteger(seed) && seed >= 0 && seed <= MOST_SEED}
            onNumber={(seed) => onChange({ ...inHand, seed })}
          />
          <Text color="quiet">The same seed draws the same.</Text>
        </Box>
      )}
      <Text color="quiet" mt="2">
        Source: {method.source}
      </Text>
    </>
  );
}
