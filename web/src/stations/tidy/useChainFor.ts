import { useEffect } from "react";

import { sentenceOf } from "../../api/problem";
import { useMatchedSteps } from "../../api/queries/tidy";
import type { ClassMap, StepOrder } from "../../api/types";
import { useDebounced } from "../../shared/useDebounced";
import { type MadeFor, useTidyChain } from "./tidyStore";

const PAUSE_MS = 300;

/**
 * The chain in hand for a map. One that was made for another map is taken over once its classes
 * were found in this one by their names; until then there are no orders, and `problem` says what
 * is not there.
 */
export function useChainFor(map: ClassMap) {
  const { steps, madeFor, setMadeFor, take } = useTidyChain();
  const fits = steps.length === 0 || madeFor.layerId === map.id;
  const orders = steps.map(({ operation, settings }) => ({ operation, settings: settings ?? {} }));
  const { data, error } = useMatchedSteps(
    map.id,
    fits ? null : { steps: orders, classes: [...madeFor.classes] },
  );
  useEffect(() => {
    if (useTidyChain.getState().madeFor !== madeFor) return; // another part of the card was first
    if (steps.length === 0) {
      if (madeFor.layerId !== map.id) setMadeFor(madeForMap(map));
    } else if (!fits && data) {
      take(data);
      setMadeFor(madeForMap(map));
    }
  }, [steps, madeFor, fits, data, map, take, setMadeFor]);
  const rested = useDebounced({ layerId: madeFor.layerId, orders }, PAUSE_MS);
  const hasRested = fits && steps.length > 0 && rested.layerId === map.id;
  return {
    orders: hasRested ? rested.orders : NONE,
    fits: steps.length === 0 || hasRested,
    problem: !fits && error ? sentenceOf(error) : null,
  };
}

const NONE: readonly StepOrder[] = [];

function madeForMap({ id, legend }: ClassMap): MadeFor {
  return { layerId: id, classes: legend.map(({ code, name }) => ({ code, name })) };
}
