import { Box, Button, Flex, Input, Link, Text } from "@chakra-ui/react";
import { useState } from "react";

import {
  useDependants,
  useRemoveScene,
  useRenameScene,
  useSceneRun,
} from "../../api/queries/scenes";
import type { Scene } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";

/** Rename, keep, download, remove. */
export function SceneActs({ scene }: { readonly scene: Scene }) {
  const studyId = useStudyId();
  const rename = useRenameScene(studyId);
  const run = useSceneRun(studyId);
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
        {scene.kept ? (
          <Link href={`/api/scenes/${scene.id}/file`} download color="cool" fontWeight="600">
            Download GeoTIFF
          </Link>
        ) : (
          <Quiet type="button" onClick={() => run.mutate({ id: scene.id, act: "keep" })}>
            Keep as a file
          </Quiet>
        )}
        <Quiet type="button" onClick={() => setAsking(true)}>
          Remove
        </Quiet>
      </Flex>
      {asking && <Removal scene={scene} onDone={() => setAsking(false)} />}
    </Box>
  );
}

interface RemovalProps {
  readonly scene: Scene;
  readonly onDone: () => void;
}

/** What depends on the scene is said before it goes; it can be undone afterwards. */
function Removal({ scene, onDone }: RemovalProps) {
  const { data: dependants } = useDependants(scene.id, true);
  const remove = useRemoveScene(useStudyId());
  if (!dependants) return null;
  const names = dependants.map((d) => `“${d.title}”`).join(", ");
  return (
    <Remark tone="caution">
      <Text>
        {dependants.length > 0
          ? `${names} ${dependants.length === 1 ? "is" : "are"} made of it and stay as they are.`
          : "Nothing else is made of it."}{" "}
        No file is deleted, and this can be undone.
      </Text>
      <Flex gap="3" mt="1.5">
        <Button
          size="xs"
          variant="outline"
          borderColor="line"
          loading={remove.isPending}
          onClick={() => remove.mutate(scene.id, { onSettled: onDone })}
        >
          Remove it
        </Button>
        <Quiet type="button" onClick={onDone}>
          Leave it
        </Quiet>
      </Flex>
    </Remark>
  );
}
