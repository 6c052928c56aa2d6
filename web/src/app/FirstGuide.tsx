import { Box, Flex, Text } from "@chakra-ui/react";
import { create } from "zustand";
import { persist } from "zustand/middleware";

import { Quiet } from "../shared/Quiet";

interface GuideStore {
  dismissed: boolean;
  dismiss: () => void;
}

const useGuide = create<GuideStore>()(
  persist((set) => ({ dismissed: false, dismiss: () => set({ dismissed: true }) }), {
    name: "kitesort-first-guide",
  }),
);

/** A short guide for the first visit; once dismissed it stays away. */
export function FirstGuide() {
  const { dismissed, dismiss } = useGuide();
  if (dismissed) return null;
  return (
    <Box as="section" aria-label="First steps" bg="coolTint" px="3.5" py="2.5">
      <Flex justify="space-between" align="baseline">
        <Text fontWeight="650">First steps</Text>
        <Quiet type="button" onClick={dismiss}>
          Dismiss
        </Quiet>
      </Flex>
      <Text>
        Left: the summer scene. Right: the class map as your training sites stand. Press <b>O</b>,
        click round a piece of ground, double-click to end: the map follows. Then classify, and go
        to <b>Check</b>.
      </Text>
    </Box>
  );
}
