import { useEffect } from "react";

import { sentenceOf } from "../../api/problem";
import { useMatchedSteps, useTidied } from "../../api/queries/tidy";
import type { ClassMap, StepOrder } from "../../api/types";
import { useDebounced } from "../../shared/useDebounced";
import { type MadeFor, useTidyChain } from "./tidyStore";

const PAUSE_MS = 300;
const NONE: readonly StepOrder[] = [];

export type Chain = ReturnType<typeof useChainFor>;

/**
 * The chain in hand for a map, once it has come to rest, and what it would change. One that was
 * made for another map is taken over once its classes were found in this one by their names; until
 * then there are no orders, and `problem` says what is not there.
 */
export function useChainFor(map: ClassMap) {
  const { steps, madeFor } = useTidyChain();
  const fits = steps.length === 0 || madeFor.layerId === map.id;
  const orders = steps.map(({ operation, settings }) => ({ operation, settings: settings ?? {} }));
  const problem = useTakenOver(map, orders, fits);
  const rested = useDebounced({ layerId: madeFor.layerId, orders }, PAUSE_MS);
  const hasRested = fits && rested.layerId === map.id && rested.orders.length > 0;
  const { data, isPlaceholderData } = useTidied(map.id, hasRested ? rested.orders : NONE);
  const found = hasRested ? data : undefined;
  return {
    orders: hasRested ? rested.orders : NONE,
    found,
    canBeDone: found?.problem === null && !isPlaceholderData,
    problem,
  };
}

/** Makes steps that do not fit a map such that do; what stands in the way. */
function useTakenOver(map: ClassMap, orders: StepOrder[], fits: boolean): string | null {
  const { madeFor, setMadeFor, take } = useTidyChain();
  const made = fits ? null : { steps: orders, classes: [...madeFor.classes] };
  const { data, error } = useMatchedSteps(map.id, made);
  const isEmpty = orders.length === 0;
  useEffect(() => {
    if (isEmpty && madeFor.layerId !== map.id) setMadeFor(madeForMap(map));
    if (!fits && data) {
      take(data);
      setMadeFor(madeForMap(map));
    }
  }, [isEmpty, madeFor, fits, data, map, take, setMadeFor]);
  return !fits && error ? sentenceOf(error) : null;
}

function madeForMap({ id, legend }: ClassMap): MadeFor {
  return { layerId: id, classes: legend.map(({ code, name }) => ({ code, name })) };
}
