import { useView, useViewStore } from "../../shared/viewStore";

interface OrderLayers {
  move: (siblings: readonly string[], at: number, by: 1 | -1) => void;
  hide: (key: string, hidden: boolean) => void;
  group: (key: string, name: string) => void;
}

/** How the list of layers is put in order; kept with the study. */
export function useOrderLayers(): OrderLayers {
  const { layers } = useView("layers");
  const change = useViewStore((store) => store.change);
  return {
    move: (siblings, at, by) => {
      const next = [...siblings];
      const [moved] = next.splice(at, 1);
      if (moved === undefined) return;
      next.splice(at + by, 0, moved);
      const rest = layers.order.filter((key) => !next.includes(key));
      change({ layers: { ...layers, order: [...rest, ...next] } });
    },
    hide: (key, hidden) => {
      const rest = layers.hidden.filter((one) => one !== key);
      change({ layers: { ...layers, hidden: hidden ? [...rest, key] : rest } });
    },
    group: (key, name) => {
      const others = Object.entries(layers.groups).filter(([one]) => one !== key);
      const groups = Object.fromEntries(name === "" ? others : [...others, [key, name]]);
      change({ layers: { ...layers, groups } });
    },
  };
}
