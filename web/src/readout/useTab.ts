import { useStation } from "../shared/stations";
import { type Tab, tabsOf } from "../shared/view";
import { useView } from "../shared/viewStore";

/** The tab that is open; one of another station waits behind the first. */
export function useTab(): Tab {
  const { tab } = useView();
  return tabsOf(useStation()).includes(tab) ? tab : "spectrum";
}
