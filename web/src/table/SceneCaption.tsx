import { useKnownScenes } from "../shared/useKnownScenes";
import type { PaneIndex, SceneShow } from "../shared/view";
import { CompositeChoice } from "./CompositeChoice";
import { OverChoice } from "./OverChoice";
import { PaletteChoice } from "./PaletteChoice";
import { ShowChoice } from "./ShowChoice";
import { StretchChoice } from "./StretchChoice";

interface Props {
  readonly index: PaneIndex;
  readonly show: SceneShow;
}

export function SceneCaption({ index, show }: Props) {
  const scene = useKnownScenes().find((s) => s.id === show.sceneId);
  if (!scene) {
    return (
      <>
        <ShowChoice index={index} show={show} /> is not there any more; choose another one
      </>
    );
  }
  const counted = show.stretch.kind !== "typed" && show.stretch.kind !== "none";
  return (
    <>
      <ShowChoice index={index} show={show} /> shown as{" "}
      <CompositeChoice index={index} show={show} scene={scene} />
      {show.palette && (
        <>
          {" "}
          in <PaletteChoice index={index} show={show} palette={show.palette} />
        </>
      )}
      , stretched <StretchChoice index={index} show={show} />
      {counted && (
        <>
          {" "}
          over <OverChoice index={index} show={show} />
        </>
      )}
    </>
  );
}
