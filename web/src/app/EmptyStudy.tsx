import { Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { Study } from "../api/types";
import { Toggle } from "../shared/Toggle";
import { BringInSheet, CatalogueSheet } from "../stations/scenes";
import { TopBar } from "./TopBar";
import { useFollowNews } from "./useFollowNews";

/** A study without a scene: the only thing to do is to get one. */
export function EmptyStudy({ study }: { readonly study: Study }) {
  const [way, setWay] = useState<"files" | "catalogue">("files");
  useFollowNews();
  return (
    <Flex direction="column" height="100vh">
      <TopBar study={study} onHelp={null} />
      <Flex as="main" direction="column" flex="1" minH="0" maxW="1100px" width="100%" mx="auto">
        <Flex gap="2" px="5" pt="4">
          <Toggle
            size="sm"
            label="From files"
            on={way === "files"}
            onClick={() => setWay("files")}
          />
          <Toggle
            size="sm"
            label="From the catalogue"
            on={way === "catalogue"}
            onClick={() => setWay("catalogue")}
          />
        </Flex>
        {way === "files" ? (
          <BringInSheet onTaken={() => undefined} />
        ) : (
          <CatalogueSheet shown={null} />
        )}
      </Flex>
    </Flex>
  );
}
