import { Link } from "@chakra-ui/react";

import { useSceneRun } from "../api/queries/scenes";
import type { Scene } from "../api/types";
import { Quiet } from "./Quiet";
import { useStudyId } from "./study";

/** Keep a scene or a derived layer as a file; download it once it is kept. */
export function KeepAct({ scene }: { readonly scene: Scene }) {
  const run = useSceneRun(useStudyId());
  if (scene.kept) {
    return (
      <Link href={`/api/scenes/${scene.id}/file`} download color="cool" fontWeight="600">
        Download GeoTIFF
      </Link>
    );
  }
  return (
    <Quiet type="button" onClick={() => run.mutate({ id: scene.id, act: "keep" })}>
      Keep as a file
    </Quiet>
  );
}
