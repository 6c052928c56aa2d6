import { Box, Flex, Text } from "@chakra-ui/react";
import { File as FileIcon, Folder } from "lucide-react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useFolder } from "../../../api/queries/deliveries";
import { formatSize } from "../../../shared/format";
import { Quiet } from "../../../shared/Quiet";
import { Remark } from "../../../shared/Remark";

interface Props {
  readonly onTake: (path: string) => void;
}

/** Folders that the server may see: nothing is sent, and nothing there is written to. */
export function FolderList({ onTake }: Props) {
  const [trail, setTrail] = useState<{ name: string; path: string }[]>([]);
  const here = trail.at(-1)?.path ?? null;
  const { data: entries = [], error, isPending } = useFolder(here);
  return (
    <Box mt="4">
      <Flex gap="2" align="baseline" wrap="wrap">
        <Text fontWeight="650">On the server</Text>
        <Quiet type="button" disabled={trail.length === 0} onClick={() => setTrail([])}>
          allowed folders
        </Quiet>
        {trail.map(({ name, path }, i) => (
          <Quiet key={path} type="button" onClick={() => setTrail(trail.slice(0, i + 1))}>
            › {name}
          </Quiet>
        ))}
      </Flex>
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {!isPending && !error && entries.length === 0 && (
        <Text color="quiet" mt="1">
          {here === null
            ? "The server may see no folder. Start it with --folder to allow one."
            : "This folder is empty."}
        </Text>
      )}
      {entries.map((entry) => (
        <Flex
          key={entry.path}
          py="1"
          gap="2"
          align="center"
          borderBottomWidth="1px"
          borderColor="line"
        >
          {entry.is_folder ? <Folder size={15} aria-hidden /> : <FileIcon size={15} aria-hidden />}
          <Box flex="1" minW="0">
            {entry.is_folder ? (
              <Quiet
                type="button"
                onClick={() => setTrail([...trail, { name: entry.name, path: entry.path }])}
              >
                {entry.name}
              </Quiet>
            ) : (
              <Text truncate>{entry.name}</Text>
            )}
          </Box>
          {!entry.is_folder && <Text color="quiet">{formatSize(entry.size)}</Text>}
          <Quiet
            type="button"
            aria-label={`Look at this: ${entry.name}`}
            onClick={() => onTake(entry.path)}
          >
            look at this
          </Quiet>
        </Flex>
      ))}
    </Box>
  );
}
