import { centreOn } from "../map";
import type { Site } from "../api/types";
import { outlineCentre } from "./outlineCentre";
import { useWork } from "./workStore";

/** Choose a site and bring it into the middle of the panes. */
export function useGoToSite(): (site: Site) => void {
  const linked = useWork((store) => store.linked);
  const set = useWork((store) => store.set);
  return (site) => {
    set({ siteKey: String(site.id), tool: "reshape" });
    const centre = outlineCentre(site.geometry);
    if (linked && centre) centreOn(linked, centre, linked.grid.pixel_size / 2);
  };
}
