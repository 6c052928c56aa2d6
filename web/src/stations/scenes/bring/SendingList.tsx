import { Box, Flex, Progress, Text } from "@chakra-ui/react";

import { formatSize } from "../../../shared/format";
import type { Sending } from "./useUpload";

/** How far each file is; when it is there, the checksum of what arrived. */
export function SendingList({ files }: { readonly files: readonly Sending[] }) {
  const total = files.reduce((n, f) => n + f.size, 0);
  const sent = files.reduce((n, f) => n + f.sent, 0);
  return (
    <Box>
      <Flex align="center" gap="3" mb="2">
        <Progress.Root
          value={total > 0 ? (100 * sent) / total : 0}
          flex="1"
          size="sm"
          aria-label="Files sent"
        >
          <Progress.Track bg="line">
            <Progress.Range bg="cool" />
          </Progress.Track>
        </Progress.Root>
        <Text color="quiet" role="status">
          {formatSize(sent)} of {formatSize(total)}
        </Text>
      </Flex>
      {files.map((file) => (
        <Flex
          key={file.path}
          gap="3"
          py="1"
          borderBottomWidth="1px"
          borderColor="line"
          align="baseline"
        >
          <Text flex="1" minW="0" truncate title={file.path}>
            {file.path}
          </Text>
          <State file={file} />
        </Flex>
      ))}
    </Box>
  );
}

function State({ file }: { readonly file: Sending }) {
  if (file.problem !== null) {
    return (
      <Text color="warmText" maxW="60%" role="alert">
        {file.problem}
      </Text>
    );
  }
  if (file.sha256 === null) {
    const percent = file.size > 0 ? Math.floor((100 * file.sent) / file.size) : 0;
    return <Text color="quiet">{percent} %</Text>;
  }
  return (
    <Text color="quiet" title={`SHA-256 ${file.sha256}`}>
      {formatSize(file.size)} · checksum {file.sha256.slice(0, 12)}…
    </Text>
  );
}
