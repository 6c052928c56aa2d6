import type { ReactNode } from "react";

import { LaterCard } from "../shared/LaterCard";
import type { StationId } from "../shared/stations";
import { CheckCard } from "../stations/check";
import { ClassifyCard } from "../stations/classify";
import { CorrectCard } from "../stations/correct";
import { DeliverCard } from "../stations/deliver";
import { DeriveCard } from "../stations/derive";
import { ScenesCard } from "../stations/scenes";
import { TrainCard } from "../stations/train";

const CARDS: Record<StationId, ReactNode> = {
  scenes: <ScenesCard />,
  correct: <CorrectCard />,
  derive: <DeriveCard />,
  train: <TrainCard />,
  classify: <ClassifyCard />,
  tidy: (
    <LaterCard
      title="Tidy"
      purpose="Here class maps will be smoothed, sieved, joined and turned into polygons."
    />
  ),
  check: <CheckCard />,
  deliver: <DeliverCard />,
};

export function StationCard({ station }: { readonly station: StationId }) {
  return CARDS[station];
}
