import { type SiteShape, SitesLayer, type SiteSource, SiteTools } from "../map";
import { crosshairNow } from "../shared/pointerStore";
import { useStation } from "../shared/stations";
import { useOverlay } from "../shared/useOverlay";
import { useCurrentScene } from "../shared/useCurrent";
import { useActiveClass } from "../shared/usePick";
import type { PaneIndex } from "../shared/view";
import { usePanes } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { useSiteActs } from "./useSiteActs";

interface Props {
  readonly index: PaneIndex;
  readonly source: SiteSource;
  readonly shapes: SiteShape[];
}

/** Training sites on imagery, and the tools that draw and change them. */
export function PaneSites({ index, source, shapes }: Props) {
  const training = useStation() === "train";
  const { kind } = usePanes()[index];
  const tool = useWork((store) => store.tool);
  const siteKey = useWork((store) => store.siteKey);
  const areaTool = useWork((store) => store.areaTool);
  const lineTool = useWork((store) => store.lineTool);
  const set = useWork((store) => store.set);
  const { display: grid } = useCurrentScene();
  const activeClass = useActiveClass();
  const acts = useSiteActs(source, shapes);
  const shown = useOverlay("sites") && (kind === "scene" || kind === "picture");
  return (
    <>
      {shown && <SitesLayer source={source} selected={siteKey} />}
      {training && (
        <SiteTools
          source={source}
          tool={lineTool || areaTool ? null : tool}
          selected={shown ? siteKey : null}
          colour={activeClass?.colour ?? "#888888"}
          crosshair={crosshairNow}
          onDrawn={acts.draw}
          onSelect={(key) => set({ siteKey: key })}
          onReshaped={acts.reshape}
          pixel={grid.pixel_size}
          onSeed={(at) => set({ seed: { ...useWork.getState().seed, at } })}
          onPainted={acts.paint}
          onCut={acts.cut}
        />
      )}
    </>
  );
}
