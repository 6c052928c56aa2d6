import { useScenes } from "../api/queries/scenes";
import { useStudyId } from "../shared/study";
import type { PaneShow } from "../shared/view";
import { CompositeChoice } from "./CompositeChoice";
import { ShowChoice } from "./ShowChoice";
import { StretchChoice } from "./StretchChoice";

export type SceneShow = Extract<PaneShow, { kind: "scene" }>;

interface Props {
  readonly index: 0 | 1;
  readonly show: SceneShow;
}

export function SceneCaption({ index, show }: Props) {
  const { data } = useScenes(useStudyId());
  const scene = data?.find((s) => s.id === show.sceneId);
  const pattern = data?.find((s) => s.id === show.stretchOf);
  if (!scene) return null;
  return (
    <>
      <ShowChoice index={index} text={scene.title} /> shown as{" "}
      <CompositeChoice index={index} show={show} scene={scene} />, stretched{" "}
      <StretchChoice index={index} show={show} /> over the whole{" "}
      {pattern ? `of ${pattern.title}` : "scene"}
    </>
  );
}
