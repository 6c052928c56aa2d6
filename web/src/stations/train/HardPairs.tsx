import { Box, Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import { Part } from "../../shared/Part";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";

const SHOWN = 4;
const GOOD = 1.9;
const POOR = 1.7;

/** The ladder of pairs from the worst up; the mark stands at 1.9. */
export function HardPairs() {
  const { data: classes = [] } = useClasses(useStudyId());
  const { data: training } = useCurrentTraining();
  const pairs = training?.pairs.slice(0, SHOWN) ?? [];
  const withheld = training?.withheld ?? [];
  if (pairs.length + withheld.length === 0) return null;
  const name = (code: number) => classes.find((c) => c.code === code)?.name ?? "";
  return (
    <Part title="Hardest to tell apart" aside="Jeffries-Matusita, 0 to 2">
      {pairs.map(({ code: a, other_code: b, jeffries_matusita: value }) => (
        <Flex key={`${a}-${b}`} align="center" gap="2" py="0.5">
          <Text flex="1" truncate>
            {name(a)} – {name(b)}
          </Text>
          <Rung value={value} />
          <Text width="2.6rem" textAlign="end" fontWeight="650" color={toneOf(value)}>
            {value.toFixed(2)}
          </Text>
        </Flex>
      ))}
      {withheld.length > 0 && (
        <Text color="quiet" mt="1">
          Not told for {withheld.map(name).join(", ")}: below ten pixels per band any two classes
          look apart.
        </Text>
      )}
    </Part>
  );
}

function toneOf(value: number): string {
  if (value >= GOOD) return "good";
  return value < POOR ? "warmText" : "caution";
}

function Rung({ value }: { readonly value: number }) {
  return (
    <Box
      position="relative"
      width="5.4rem"
      height="6px"
      bg="bg.muted"
      borderRadius="3px"
      aria-hidden
    >
      <Box width={`${50 * value}%`} height="100%" bg={toneOf(value)} borderRadius="3px" />
      <Box
        position="absolute"
        left={`${50 * GOOD}%`}
        top="-4px"
        bottom="-4px"
        width="1px"
        bg="ink"
      />
    </Box>
  );
}
