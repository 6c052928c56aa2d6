import { Box, Flex, Text } from "@chakra-ui/react";

import type { SpectralIndex } from "../../api/types";
import { formatDigits } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import type { Values } from "../SchemaForm";
import { Typeset } from "../../shared/Typeset";

interface Props {
  readonly index: SpectralIndex;
  readonly values: Values;
  readonly onValues: (values: Values) => void;
}

/** The index looked at last: its formula in the scene's bands, what it comes to, its source. */
export function IndexFacts({ index, values, onValues }: Props) {
  const { low, high, reference } = index;
  const typical = [...index.typical].sort((a, b) => b.value - a.value);
  return (
    <Box mt="2" pt="2" borderTopWidth="1px" borderColor="line">
      <Typeset mathml={index.mathml} />
      <Constants index={index} values={values} onValues={onValues} />
      {low !== null && high !== null && (
        <Text>
          From {low} to {high}, where no reflectance is below zero.
        </Text>
      )}
      {typical.length > 0 && (
        <Text>
          Typical:{" "}
          {typical.map(({ cover, value }) => `${cover} ${formatDigits(value)}`).join(" · ")}
          <Text as="span" color="quiet">
            {" "}
            (schematic textbook spectra)
          </Text>
        </Text>
      )}
      <Text color="quiet" overflowWrap="anywhere">
        {reference}
      </Text>
    </Box>
  );
}

/** Constants of the index; the published values unless others are typed. */
function Constants({ index, values, onValues }: Props) {
  const all = (values["constants"] ?? {}) as Record<string, Values>;
  const own = all[index.id] ?? {};
  const put = (next: Values) => onValues({ ...values, constants: { ...all, [index.id]: next } });
  return index.constants.map(({ name, value }) => {
    const title = name.replace("constant_", "");
    const now = own[name];
    return (
      <Flex key={name} gap="2" align="center" mb="1">
        <Text minW="4rem">{title}</Text>
        <NumberField
          label={`Constant ${title}`}
          value={typeof now === "number" ? now : value}
          onNumber={(next) => put({ ...own, [name]: next })}
        />
        <Text color="quiet">published: {value}</Text>
      </Flex>
    );
  });
}
