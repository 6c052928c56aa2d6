import { useNextPlaces } from "../api/queries/judging";
import { type Coordinate, centreOn } from "../map";
import { useStudyId } from "./study";
import { useTaught } from "./useCurrent";
import { useWork } from "./workStore";

/** The places at which another site would teach most, one after the other. */
export function useTour() {
  const at = useWork((store) => store.nextPlace);
  const linked = useWork((store) => store.linked);
  const set = useWork((store) => store.set);
  const { data = [], error, isPending } = useNextPlaces(useStudyId(), useTaught(), at !== null);
  const place = at === null ? null : (data[at] ?? null);
  /** To the next place, or the one before; the first where none is looked at. */
  const go = (by: 1 | -1 = 1) => {
    const to = at === null || data.length === 0 ? 0 : (at + by + data.length) % data.length;
    set({ nextPlace: to });
    show(to);
  };
  const show = (to: number) => {
    const wanted = data[to];
    if (!wanted || !linked) return;
    const centre: Coordinate = [wanted.x, wanted.y];
    centreOn(linked, centre, linked.grid.pixel_size / 2);
  };
  const stop = () => set({ nextPlace: null });
  return { at, place, n: data.length, error, isPending, go, show, stop };
}
