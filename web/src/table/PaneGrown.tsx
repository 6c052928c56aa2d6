import { LitLayer, type Outline } from "../map";
import { useStation } from "../shared/stations";
import { useGrowing } from "../shared/useGrowing";
import { useWork } from "../shared/workStore";

/** The site that grows from a clicked pixel, before it is kept. */
export function PaneGrown() {
  const growing = useWork((store) => store.tool === "grow" && store.seed.at !== null);
  return useStation() === "train" && growing ? <Growing /> : null;
}

function Growing() {
  const { data } = useGrowing();
  return data ? <LitLayer outline={data.geometry as unknown as Outline} /> : null;
}
