import { Box, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import { useRenameLayer } from "../../api/queries/layers";
import type { Scene } from "../../api/types";
import { KeepAct } from "../../shared/KeepAct";
import { Quiet } from "../../shared/Quiet";
import { Removal } from "../../shared/Removal";
import { useStudyId } from "../../shared/study";

/** Rename, keep, download, remove. */
export function SceneActs({ scene }: { readonly scene: Scene }) {
  const studyId = useStudyId();
  const rename = useRenameLayer(studyId);
  const [asking, setAsking] = useState(false);
  return (
    <Box mt="2">
      <Input
        key={scene.title}
        size="xs"
        bg="card"
        aria-label={`Name of ${scene.title}`}
        defaultValue={scene.title}
        onBlur={(event) => {
          const title = event.currentTarget.value.trim();
          if (title !== "" && title !== scene.title) rename.mutate({ id: scene.id, title });
        }}
      />
      <Flex gap="3" mt="1.5" wrap="wrap">
        <KeepAct layer={scene} />
        <Quiet type="button" onClick={() => setAsking(true)}>
          Remove
        </Quiet>
      </Flex>
      {asking && <Removal layer={scene} isScene onDone={() => setAsking(false)} />}
    </Box>
  );
}
