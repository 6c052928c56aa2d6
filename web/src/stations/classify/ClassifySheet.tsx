import { type ClassifySheet as Sheet, useWork } from "../../shared/workStore";
import { CompareSheet } from "./CompareSheet";
import { LayersSheet } from "./LayersSheet";
import { MethodsSheet } from "./MethodsSheet";
import { TrainedSheet } from "./trained/TrainedSheet";

/** The sheet of this station that stands in the place of the panes. */
export function ClassifySheet({ sheet }: { readonly sheet: Sheet }) {
  const set = useWork((store) => store.set);
  const close = () => set({ sheet: null });
  switch (sheet.kind) {
    case "methods":
      return <MethodsSheet onClose={close} />;
    case "layers":
      return <LayersSheet onClose={close} />;
    case "trained":
      return <TrainedSheet onClose={close} />;
    case "compare":
      return <CompareSheet first={sheet.first} second={sheet.second} onClose={close} />;
  }
}
