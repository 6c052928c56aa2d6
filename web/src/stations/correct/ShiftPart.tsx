import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import type { Scene } from "../../api/types";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { ShiftNews } from "./ShiftNews";
import { useChosenScenes } from "./useChosenScenes";

interface Pair {
  fixed: Scene;
  moving: Scene;
}

/** How far two dates lie beside one another. */
export function ShiftPart() {
  const { chosen } = useChosenScenes();
  const [asked, setAsked] = useState<Pair | null>(null);
  const [fixed, moving] = chosen;
  const pair = fixed && moving ? { fixed, moving } : null;
  return (
    <Part title="Shift between two dates">
      <Text color="quiet">
        {pair
          ? `How far “${pair.moving.title}” lies beside “${pair.fixed.title}”.`
          : "Choose two scenes above."}
      </Text>
      <Flex mt="1">
        <Quiet type="button" disabled={!pair} onClick={() => setAsked(pair)}>
          Measure the shift
        </Quiet>
      </Flex>
      {asked && <ShiftNews key={`${asked.fixed.id} ${asked.moving.id}`} {...asked} />}
    </Part>
  );
}
