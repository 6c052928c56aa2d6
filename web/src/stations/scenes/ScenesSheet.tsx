import type { ScenesSheet as Sheet } from "../../shared/workStore";
import { useWork } from "../../shared/workStore";
import { BringInSheet } from "./bring/BringInSheet";
import { CatalogueSheet } from "./catalogue/CatalogueSheet";
import { ComparisonSheet } from "./ComparisonSheet";
import { FactsSheet } from "./FactsSheet";
import { useShowTaken } from "./useShowTaken";

interface Props {
  readonly sheet: Sheet;
}

/** The sheet of this station that stands in the place of the panes. */
export function ScenesSheet({ sheet }: Props) {
  const set = useWork((store) => store.set);
  const showTaken = useShowTaken();
  const close = () => set({ sheet: null });
  switch (sheet.kind) {
    case "bring-in":
      return (
        <BringInSheet
          onClose={close}
          onTaken={(scenes) => {
            showTaken(scenes);
            close();
          }}
        />
      );
    case "catalogue":
      return <CatalogueSheet shown={sheet.shown} onClose={close} />;
    case "facts":
      return <FactsSheet sceneId={sheet.sceneId} onClose={close} />;
    case "comparison":
      return <ComparisonSheet sceneIds={sheet.sceneIds} onClose={close} />;
  }
}
