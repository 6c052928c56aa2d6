import { useScenes } from "../api/queries/scenes";
import { extentShown } from "../map";
import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { useStudyId } from "../shared/study";
import { type PaneIndex, type SceneShow, type StretchOver } from "../shared/view";
import { useWork } from "../shared/workStore";
import { useChangeShow } from "./useChangeShow";

interface Props {
  readonly index: PaneIndex;
  readonly show: SceneShow;
}

/** The handle that changes where the values are counted that set the limits. */
export function OverChoice({ index, show }: Props) {
  const { data: scenes } = useScenes(useStudyId());
  const pattern = scenes?.find((s) => s.id === show.stretchOf);
  const { put } = useChangeShow(index, show);
  const linked = useWork((store) => store.linked);
  const siteKey = useWork((store) => store.siteKey);
  const { over } = show.stretch;
  const site = siteKey !== null && !siteKey.startsWith("unsaved") ? Number(siteKey) : null;
  const choose = (next: StretchOver) => {
    const own = { ...show, stretch: { ...show.stretch, over: next } };
    delete own.stretchOf;
    put(own);
  };
  const view = () => {
    if (!linked) return;
    const { left, bottom, right, top } = extentShown(linked);
    choose({ extent: [left, bottom, right, top] });
  };
  return (
    <Handle text={overWords(over, pattern?.title)} label="Change where values are counted">
      {(close) => (
        <>
          <Choice
            title="The whole scene"
            chosen={over === "scene" && !pattern}
            onChoose={() => {
              choose("scene");
              close();
            }}
          />
          <Choice
            title="What the panes show now"
            note="Counted once; it does not change while you move on"
            chosen={typeof over === "object" && "extent" in over}
            onChoose={() => {
              view();
              close();
            }}
          />
          {site !== null && (
            <Choice
              title="The chosen site"
              chosen={typeof over === "object" && "site" in over}
              onChoose={() => {
                choose({ site });
                close();
              }}
            />
          )}
        </>
      )}
    </Handle>
  );
}

function overWords(over: StretchOver, pattern: string | undefined): string {
  const whole = pattern === undefined ? "the whole scene" : `the whole of ${pattern}`;
  if (over === "scene") return whole;
  return "site" in over ? "a training site" : "a part of the scene";
}
