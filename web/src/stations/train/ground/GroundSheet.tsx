import { Box, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useKeepGround } from "../../../api/queries/ground";
import type { GroundFile } from "../../../api/types";
import { FileButton } from "../../../shared/FileButton";
import { Remark } from "../../../shared/Remark";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { GroundFileForm } from "./GroundFileForm";

const PURPOSE =
  "Outlines and points with their classes: GeoPackage, GeoJSON, zipped shapefile, or a table of points (CSV). Points become sites of one pixel.";

/** Bring in training sites of others: looked at first, then taken as one edit. */
export function GroundSheet({ onClose }: { readonly onClose: () => void }) {
  const keep = useKeepGround(useStudyId());
  const [file, setFile] = useState<GroundFile | null>(null);
  const read = (chosen: File) => keep.mutate(chosen, { onSuccess: setFile });
  const choose = (
    <Box mb="3">
      <FileButton
        label={file ? "Choose another file" : "Choose a file"}
        accept=".gpkg,.geojson,.json,.zip,.csv,.tsv,.txt"
        busy={keep.isPending}
        onFile={read}
      />
    </Box>
  );
  const problem = keep.error && <Remark tone="problem">{sentenceOf(keep.error)}</Remark>;
  if (file) {
    return (
      <GroundFileForm key={file.token} file={file} onClose={onClose}>
        {choose}
        {problem}
      </GroundFileForm>
    );
  }
  return (
    <SheetFrame title="Bring in sites" purpose={PURPOSE} onClose={onClose}>
      {choose}
      {problem}
      <Text color="quiet" maxW="34rem">
        Nothing is taken before you have seen which classes the file names, how many sites each has,
        and what cannot be taken. One undo takes all of it back.
      </Text>
    </SheetFrame>
  );
}
