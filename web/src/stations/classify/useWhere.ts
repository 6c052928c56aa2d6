import { useState } from "react";

import type { Where } from "../../api/types";
import { plural } from "../../shared/format";
import { useViewExtent } from "../../shared/useViewExtent";
import { useWork } from "../../shared/workStore";

export type WhereKind = "scene" | "view" | "areas";

interface Place {
  kind: WhereKind;
  /** After "over", and after "Classify". */
  title: string;
  where: Where;
}

const EVERYWHERE: Where = { outlines: [] };

/** Over which part of the scene a map is made. */
export function useWhere() {
  const [wanted, setKind] = useState<WhereKind>("scene");
  const [within, setWithin] = useState<Where["within"] | null>(null);
  const areas = useWork((store) => store.areas);
  const extent = useViewExtent();
  const places: Place[] = [{ kind: "scene", title: "the whole scene", where: EVERYWHERE }];
  if (extent !== null) {
    places.push({ kind: "view", title: "what the panes show", where: { ...EVERYWHERE, extent } });
  }
  if (areas.length > 0) {
    const outlines = areas.map(({ outline }) => ({ ...outline }));
    places.push({ kind: "areas", title: plural(areas.length, "drawn area"), where: { outlines } });
  }
  const [whole] = places;
  const now = places.find(({ kind }) => kind === wanted) ?? whole;
  // Classes count once one is chosen.
  const part = within && within.codes.length > 0 ? { within } : {};
  return {
    places,
    now: now && { ...now, where: { ...now.where, ...part } },
    setKind,
    within,
    setWithin,
  };
}
