import { Flex, IconButton, Text } from "@chakra-ui/react";
import { CircleHelp } from "lucide-react";

import type { Study } from "../api/types";
import { KiteMark } from "./KiteMark";
import { Offline } from "./Offline";
import { RunStatus } from "./RunStatus";
import { LayersButton } from "./layers/LayersButton";
import { SearchBox } from "./SearchBox";
import { StudyMenu } from "./StudyMenu";
import { UndoRedo } from "./UndoRedo";

interface Props {
  readonly study: Study;
  /** Null in a study without a scene, where there is nothing to search or to key yet. */
  readonly onHelp: (() => void) | null;
}

export function TopBar({ study, onHelp }: Props) {
  return (
    <Flex
      as="header"
      height="46px"
      flex="none"
      px="4"
      gap="3"
      align="center"
      bg="paper"
      borderBottomWidth="1px"
      borderColor="line"
    >
      <KiteMark height={30} />
      <Text fontSize="1.3rem" fontWeight="700">
        Kite Sort
      </Text>
      <StudyMenu study={study} />
      <Flex flex="1" minW="0" justify="center" gap="4">
        <Offline />
        <RunStatus />
      </Flex>
      {onHelp && (
        <>
          <UndoRedo />
          <LayersButton />
          <SearchBox />
          <IconButton
            size="xs"
            variant="ghost"
            aria-label="Help and shortcuts"
            title="Help and shortcuts (?)"
            onClick={onHelp}
          >
            <CircleHelp />
          </IconButton>
        </>
      )}
    </Flex>
  );
}
