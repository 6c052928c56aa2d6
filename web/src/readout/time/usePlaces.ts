import { useSites } from "../../api/queries/training";
import type { Coordinate } from "../../map";
import { lineColour } from "../../shared/pins";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";

export interface Place {
  key: string;
  name: string;
  /** Null: the ink of the theme. */
  colour: string | null;
  at: Coordinate | null;
  geometry: Record<string, unknown> | null;
}

const AREA_COLOURS = ["#56B4E9", "#E69F00", "#CC79A7"];

/** Where values are read through time: the crosshair, pins, drawn areas, the chosen site. */
export function usePlaces(crosshair: Coordinate | null): Place[] {
  const { pins, sceneId } = useView("pins", "sceneId");
  const areas = useWork((store) => store.areas);
  const siteKey = useWork((store) => store.siteKey);
  const { data: sites = [] } = useSites(useStudyId(), sceneId);
  const chosen = sites.find((site) => String(site.id) === siteKey);
  const here = crosshair ? [pointPlace("here", null, crosshair)] : [];
  return [
    ...here,
    ...pins.map((at, i) => pointPlace(`pin ${i + 1}`, lineColour(i), at)),
    ...areas.slice(0, AREA_COLOURS.length).map(({ key, name, outline }, i) => ({
      key,
      name,
      colour: AREA_COLOURS[i] ?? null,
      at: null,
      geometry: { ...outline },
    })),
    ...(chosen
      ? [
          {
            key: `site:${chosen.id}`,
            name: "chosen site",
            colour: "#B4690E",
            at: null,
            geometry: chosen.geometry,
          },
        ]
      : []),
  ];
}

function pointPlace(name: string, colour: string | null, at: Coordinate): Place {
  return { key: at.join(), name, colour, at, geometry: null };
}
