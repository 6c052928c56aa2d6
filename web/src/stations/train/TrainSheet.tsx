import { type TrainSheet as Sheet, useWork } from "../../shared/workStore";
import { GroundSheet } from "./ground/GroundSheet";
import { SchemeSheet } from "./scheme/SchemeSheet";

/** The sheet of this station that stands in the place of the panes. */
export function TrainSheet({ sheet }: { readonly sheet: Sheet }) {
  const set = useWork((store) => store.set);
  const close = () => set({ sheet: null });
  return sheet.kind === "ground" ? (
    <GroundSheet onClose={close} />
  ) : (
    <SchemeSheet onClose={close} />
  );
}
