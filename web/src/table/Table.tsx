import { Grid } from "@chakra-ui/react";
import { useEffect, useState } from "react";

import { createLinkedView, onRest } from "../map";
import { tellBusy } from "../shared/busyStore";
import { useCurrentScene } from "../shared/useCurrent";
import { PANES } from "../shared/view";
import { useView, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { Pane } from "./Pane";
import { useSiteShapes } from "./useSiteShapes";

const COLUMNS = { 1: "1fr", 2: "1fr 1fr", 4: "1fr 1fr" };

/** One, two or four panes: the same centre, zoom and crosshair in all of them. */
export function Table() {
  const scene = useCurrentScene();
  const { place, count } = useView("place", "count");
  const [linked] = useState(() => createLinkedView(scene.display, place));
  const { source, shapes } = useSiteShapes();
  const change = useViewStore((store) => store.change);
  const set = useWork((store) => store.set);
  useEffect(() => {
    set({ linked });
    const stop = onRest(
      linked,
      (next) => change({ place: next }),
      (moving) => tellBusy("place", moving),
    );
    return () => {
      stop();
      set({ linked: null });
    };
  }, [linked, change, set]);
  return (
    <Grid
      flex="1"
      minH="0"
      bg="surround"
      p="6px"
      gap="6px"
      templateColumns={COLUMNS[count]}
      autoRows="minmax(0, 1fr)"
    >
      {PANES.slice(0, count).map((index) => (
        <Pane key={index} index={index} linked={linked} source={source} shapes={shapes} />
      ))}
    </Grid>
  );
}
