import { Flex, Text } from "@chakra-ui/react";
import { CloudOff } from "lucide-react";

import { plural } from "../shared/format";
import { useNewsStore } from "../shared/newsStore";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";

/** As long as the server does not answer: that, and what waits in this browser. */
export function Offline() {
  const studyId = useStudyId();
  const online = useNewsStore((store) => store.online);
  const n = useUnsavedSites(
    (store) => store.sites.filter((site) => site.studyId === studyId).length,
  );
  if (online) return null;
  const waiting =
    n === 0 ? "Nothing waits to be stored." : `${plural(n, "outline waits", "outlines wait")}.`;
  return (
    <Flex align="center" gap="2" role="status" color="warmText" fontWeight="650">
      <CloudOff size={16} aria-hidden />
      <Text truncate>The server does not answer. {waiting}</Text>
    </Flex>
  );
}
