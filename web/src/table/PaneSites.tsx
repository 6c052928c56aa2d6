import { type SiteShape, SitesLayer, type SiteSource, SiteTools } from "../map";
import { useStation } from "../shared/stations";
import { useOverlay } from "../shared/useOverlay";
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
  const { tool, siteKey, areaTool, lineTool, set } = useWork();
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
          crosshair={() => useWork.getState().crosshair}
          onDrawn={acts.draw}
          onSelect={(key) => set({ siteKey: key })}
          onReshaped={acts.reshape}
        />
      )}
    </>
  );
}
