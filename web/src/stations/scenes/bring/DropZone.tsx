import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";

import type { UploadFile } from "../../../api/upload";
import { readDrop, readInput } from "./readDrop";

interface Props {
  readonly onFiles: (files: UploadFile[]) => void;
}

/** Where files, folders and archives are dropped, or chosen. */
export function DropZone({ onFiles }: Props) {
  const [over, setOver] = useState(false);
  return (
    <Flex
      direction="column"
      align="center"
      gap="3"
      py="9"
      px="4"
      bg={over ? "coolTint" : "card"}
      borderWidth="2px"
      borderStyle="dashed"
      borderColor={over ? "cool" : "line"}
      borderRadius="8px"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void readDrop(event.dataTransfer.items).then(onFiles);
      }}
      data-testid="drop-zone"
    >
      <Text fontSize="1.15rem" fontWeight="650">
        Drop files, a whole folder, or a zip or tar here
      </Text>
      <Text color="quiet" textAlign="center" maxW="34rem">
        GeoTIFF and JPEG 2000, with the metadata they came with. Bands may lie several folders down;
        previews, quality and angle files are told apart from bands.
      </Text>
      <Flex gap="3">
        <FileButton label="Choose files" onFiles={onFiles} />
        <FileButton label="Choose a folder" folder onFiles={onFiles} />
      </Flex>
    </Flex>
  );
}

interface FileButtonProps extends Props {
  readonly label: string;
  readonly folder?: boolean;
}

function FileButton({ label, folder = false, onFiles }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Box>
      <Button
        size="sm"
        variant="outline"
        borderColor="line"
        bg="card"
        onClick={() => input.current?.click()}
      >
        {label}
      </Button>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label={label}
        {...(folder && { webkitdirectory: "" })}
        onChange={(event) => {
          if (event.currentTarget.files) onFiles(readInput(event.currentTarget.files));
        }}
      />
    </Box>
  );
}
