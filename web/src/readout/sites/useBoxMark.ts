import type { Site } from "../../api/types";
import { outlineCentre } from "../../shared/outlineCentre";
import { type DrawnArea, useWork } from "../../shared/workStore";

/** Marks the sites whose middle lies in a box that is dragged over a pane. */
export function useBoxMark(sites: readonly Site[], onMarked: (ids: number[]) => void) {
  const waiting = useWork((store) => store.areaTool) === "rectangle";
  const { set } = useWork.getState();
  const turn = () => {
    if (waiting) {
      set({ areaTool: null });
      return;
    }
    const before = useWork.getState().areas;
    set({ areaTool: "rectangle" });
    const stop = useWork.subscribe(({ areas, areaTool }) => {
      const drawn = areas.find((area) => !before.includes(area));
      if (!drawn && areaTool !== null) return;
      stop();
      if (!drawn) return;
      onMarked(sites.filter((site) => isInside(site, drawn)).map(({ id }) => id));
      set({ areas: before }); // the box was for this alone
    });
  };
  return { waiting, turn };
}

export function isInside(site: Pick<Site, "geometry">, { outline }: Pick<DrawnArea, "outline">) {
  const middle = outlineCentre(site.geometry);
  if (!middle) return false;
  const corners = (outline.coordinates as unknown[]).flat(Infinity) as number[];
  const within = (value: number, of: number[]) =>
    value >= Math.min(...of) && value <= Math.max(...of);
  const [x, y] = middle;
  return (
    within(
      x,
      corners.filter((_, i) => i % 2 === 0),
    ) &&
    within(
      y,
      corners.filter((_, i) => i % 2 === 1),
    )
  );
}
