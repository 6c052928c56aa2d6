import { Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";

import { createLinkedView, onRest } from "../map";
import { useCurrentScene } from "../shared/useCurrent";
import { useView, useViewStore } from "../shared/viewStore";
import { useWork } from "../shared/workStore";
import { Pane } from "./Pane";
import { useSiteShapes } from "./useSiteShapes";

/** The panes side by side: the same centre, zoom and crosshair in all of them. */
export function Table() {
  const scene = useCurrentScene();
  const { place } = useView();
  const [linked] = useState(() => createLinkedView(scene.display, place));
  const { source, shapes } = useSiteShapes();
  const change = useViewStore((store) => store.change);
  const set = useWork((store) => store.set);
  useEffect(() => {
    set({ linked });
    const stop = onRest(linked, (next) => change({ place: next }));
    return () => {
      stop();
      set({ linked: null });
    };
  }, [linked, change, set]);
  return (
    <Flex flex="1" minH="0" bg="surround" p="6px" gap="6px">
      <Pane index={0} linked={linked} source={source} shapes={shapes} />
      <Pane index={1} linked={linked} source={source} shapes={shapes} />
    </Flex>
  );
}
