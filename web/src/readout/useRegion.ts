import { useState } from "react";

import { useSites } from "../api/queries/training";
import type { RegionOrder } from "../api/types";
import type { Option } from "../shared/Select";
import { useStudyId } from "../shared/study";
import { useActiveClass } from "../shared/usePick";
import { useViewExtent } from "../shared/useViewExtent";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

export type RegionKind = "scene" | "view" | "site" | "class" | "areas";

const EVERYWHERE: RegionOrder = { site_ids: [], outlines: [] };

interface Region {
  kind: RegionKind;
  options: Option[];
  order: RegionOrder;
  words: string;
  setKind: (kind: RegionKind) => void;
}

/** Where pixels are counted: the scene, what the panes show, sites, drawn areas. */
export function useRegion(): Region {
  const [picked, setKind] = useState<RegionKind>("scene");
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: sites = [] } = useSites(studyId, sceneId);
  const activeClass = useActiveClass();
  const siteKey = useWork((store) => store.siteKey);
  const areas = useWork((store) => store.areas);
  const extent = useViewExtent();
  const chosen = sites.filter((site) => String(site.id) === siteKey);
  const ofClass = sites.filter((site) => site.class_id === activeClass?.id);
  const idsOf = (found: readonly { id: number }[]) => ({ site_ids: found.map(({ id }) => id) });
  const all: { kind: RegionKind; label: string; order: RegionOrder | null }[] = [
    { kind: "scene", label: "the whole scene", order: EVERYWHERE },
    {
      kind: "view",
      label: "what the panes show",
      order: extent === null ? null : { ...EVERYWHERE, extent },
    },
    { kind: "site", label: "the chosen site", order: ifAny(chosen, idsOf) },
    {
      kind: "class",
      label: `the sites of ${activeClass?.name ?? "a class"}`,
      order: ifAny(ofClass, idsOf),
    },
    {
      kind: "areas",
      label: "the drawn areas",
      order: ifAny(areas, (found) => ({ outlines: found.map((a) => ({ ...a.outline })) })),
    },
  ];
  const there = all.filter((one) => one.order !== null);
  const now = there.find((one) => one.kind === picked);
  return {
    kind: now ? picked : "scene",
    options: there.map(({ kind, label }) => ({ value: kind, label })),
    order: now?.order ?? EVERYWHERE,
    words: now?.label ?? "the whole scene",
    setKind,
  };
}

function ifAny<T>(found: readonly T[], order: (found: readonly T[]) => Partial<RegionOrder>) {
  return found.length > 0 ? { ...EVERYWHERE, ...order(found) } : null;
}
