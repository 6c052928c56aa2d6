import { Box, Flex, Text } from "@chakra-ui/react";

import type { Curve } from "../charts";
import { LineSign } from "./LineSign";

/** What each line of the chart is. */
export function CurveLegend({ curves }: { readonly curves: readonly Curve[] }) {
  return (
    <Box as="ul" flex="none" pe="3" overflowY="auto" maxW="11rem" listStyleType="none">
      {curves.map((curve) => (
        <Flex as="li" key={curve.name} gap="1.5" align="center">
          <LineSign curve={curve} />
          <Text truncate title={curve.name}>
            {curve.name}
          </Text>
        </Flex>
      ))}
    </Box>
  );
}
