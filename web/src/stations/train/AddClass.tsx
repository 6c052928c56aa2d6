import { NewClass } from "../../shared/NewClass";
import { useWork } from "../../shared/workStore";

/** A new class, in hand at once. */
export function AddClass() {
  const set = useWork((store) => store.set);
  return <NewClass act="Add class" onMade={({ id }) => set({ classId: id })} />;
}
