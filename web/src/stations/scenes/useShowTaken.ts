import type { Scene } from "../../api/types";
import { plural } from "../../shared/format";
import { tellNews } from "../../shared/notices";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";

/** Show the first of the scenes that have just come in, and say how many there are. */
export function useShowTaken(): (scenes: Scene[]) => void {
  const setPane = useViewStore((store) => store.setPane);
  return (scenes) => {
    const [first] = scenes;
    if (!first) return;
    setPane(0, showScene(first));
    tellNews(`${plural(scenes.length, "scene")} taken into the study.`);
  };
}
