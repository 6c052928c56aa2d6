import { Folded } from "../../shared/Folded";
import { useCurrentTraining } from "../../shared/useCurrent";
import { RoundsChart } from "./RoundsChart";

/** How the method in hand learns, while it does, where it learns in rounds. */
export function LiveRounds() {
  const { data: training } = useCurrentTraining();
  const { rounds = [], pending = false } = training?.live ?? {};
  if (rounds.length === 0) return null;
  return (
    <Folded title={pending ? "How it learns" : "How it learnt"} startsOpen>
      <RoundsChart rounds={rounds} label="How the method in hand learns" learning={pending} />
    </Folded>
  );
}
