import { Box, Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import type { Readout } from "../../api/types";
import { useStation } from "../../shared/stations";
import { useStudyId } from "../../shared/study";
import { Swatch } from "../../shared/Swatch";

/** The three classes that the pixel under the crosshair is nearest to, while training. */
export function LiveScores({ readout }: { readonly readout: Readout | null }) {
  const { data: classes = [] } = useClasses(useStudyId());
  const scores = readout?.live_scores ?? [];
  if (useStation() !== "train" || scores.length === 0) return null;
  return (
    <Box aria-label="Scores of this pixel" role="group">
      {scores.map(({ code, share }) => {
        const row = classes.find((one) => one.code === code);
        return (
          <Flex key={code} gap="1.5" align="center" lineHeight="1.35">
            <Swatch colour={row?.colour ?? ""} />
            <Text flex="1" minW="0" truncate>
              {row?.name}
            </Text>
            <Box flex="none" width="30px" height="5px" bg="line" borderRadius="2px" aria-hidden>
              <Box width={`${100 * share}%`} height="100%" bg="cool" borderRadius="2px" />
            </Box>
            <Text flex="none" width="2.2rem" textAlign="end" whiteSpace="nowrap">
              {share.toFixed(2)}
            </Text>
          </Flex>
        );
      })}
    </Box>
  );
}
