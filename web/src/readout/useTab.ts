import { useClustering } from "../shared/useClusters";
import { useStation } from "../shared/stations";
import { type Tab, tabsOf } from "../shared/view";
import { useView } from "../shared/viewStore";

/** The tabs that there are just now. */
export function useTabs(): readonly Tab[] {
  const station = useStation();
  return tabsOf(useClustering() ? "clusters" : station);
}

/** The tab that is open; one of another station waits behind the first. */
export function useTab(): Tab {
  const { tab } = useView("tab");
  return useTabs().includes(tab) ? tab : "spectrum";
}
