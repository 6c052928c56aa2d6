import type { Scene } from "../api/types";
import type { Option } from "../shared/Select";
import { memberKey } from "../shared/member";
import { useKnownScenes } from "../shared/useKnownScenes";
import { useReadScenes } from "./useCrosshairReadout";

export interface Member {
  /** A scene's id and a role, as the server is asked. */
  key: string;
  scene: Scene;
  role: string;
}

interface Members {
  scenes: Scene[];
  members: Member[];
  options: Option[];
  find: (key: string) => Member | undefined;
}

/** Every band of every scene that the panes show. */
export function useMembers(): Members {
  const data = useKnownScenes();
  const shown = useReadScenes();
  const scenes = shown.flatMap((id) => data.find((scene) => scene.id === id) ?? []);
  const members = scenes.flatMap((scene) =>
    scene.bands.map(({ role }) => ({ key: memberKey(scene.id, role), scene, role })),
  );
  const options = members.map(({ key, scene, role }) => ({
    value: key,
    label: scenes.length > 1 ? `${role}, ${scene.title}` : role,
  }));
  return { scenes, members, options, find: (key) => members.find((m) => m.key === key) };
}
