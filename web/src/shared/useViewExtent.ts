import { extentShown } from "../map";
import { useView } from "./viewStore";
import { useWork } from "./workStore";

/** The extent of the panes, as it was when they last came to rest. */
export function useViewExtent(): string | null {
  const linked = useWork((store) => store.linked);
  // What changes when the panes come to rest, or have another size.
  useView("place", "count", "readoutFolded", "readoutHeight");
  if (!linked) return null;
  const { left, bottom, right, top } = extentShown(linked);
  return [left, bottom, right, top].map((v) => v.toFixed(6)).join(",");
}
