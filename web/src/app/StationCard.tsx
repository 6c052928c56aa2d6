import { type ComponentType, lazy, Suspense, useEffect } from "react";

import type { StationId } from "../shared/stations";

// Each is loaded when it is opened; the others follow when the page has come to rest.
const LOADS = {
  scenes: () => import("../stations/scenes").then((m) => m.ScenesCard),
  correct: () => import("../stations/correct").then((m) => m.CorrectCard),
  derive: () => import("../stations/derive").then((m) => m.DeriveCard),
  train: () => import("../stations/train").then((m) => m.TrainCard),
  classify: () => import("../stations/classify").then((m) => m.ClassifyCard),
  tidy: () => import("../stations/tidy").then((m) => m.TidyCard),
  check: () => import("../stations/check").then((m) => m.CheckCard),
  deliver: () => import("../stations/deliver").then((m) => m.DeliverCard),
} satisfies Record<StationId, () => Promise<ComponentType>>;

const AT_REST_MS = 1500;

const CARDS: Record<StationId, ComponentType> = {
  scenes: later(LOADS.scenes),
  correct: later(LOADS.correct),
  derive: later(LOADS.derive),
  train: later(LOADS.train),
  classify: later(LOADS.classify),
  tidy: later(LOADS.tidy),
  check: later(LOADS.check),
  deliver: later(LOADS.deliver),
};

function later(load: () => Promise<ComponentType>): ComponentType {
  return lazy(() => load().then((card) => ({ default: card })));
}

export function StationCard({ station }: { readonly station: StationId }) {
  const Card = CARDS[station];
  useEffect(() => {
    const timer = setTimeout(() => Object.values(LOADS).forEach((load) => void load()), AT_REST_MS);
    return () => clearTimeout(timer);
  }, []);
  return (
    <Suspense fallback={null}>
      <Card />
    </Suspense>
  );
}
