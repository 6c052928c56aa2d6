import { Flex, IconButton, Text } from "@chakra-ui/react";
import { CircleHelp } from "lucide-react";

import type { Study } from "../api/types";
import { KiteMark } from "./KiteMark";
import { RunStatus } from "./RunStatus";
import { SearchBox } from "./SearchBox";

interface Props {
  readonly study: Study;
  readonly onHelp: () => void;
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
      <Text color="quiet" fontSize="1.05rem">
        {study.name}
      </Text>
      <Flex flex="1" minW="0" justify="center">
        <RunStatus />
      </Flex>
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
    </Flex>
  );
}
