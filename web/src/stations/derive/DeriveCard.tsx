import { Card } from "../../shared/Card";
import { AlsoFor } from "./AlsoFor";
import { BreaksForm } from "./breaks/BreaksForm";
import { KeepBreaks } from "./breaks/KeepBreaks";
import { DerivedList } from "./DerivedList";
import { useDeriveStore } from "./deriveStore";
import { DraftFacts } from "./DraftFacts";
import { KindChoice } from "./KindChoice";
import { MakeLayers } from "./MakeLayers";
import { OperationForm } from "./OperationForm";
import { SceneSelect } from "./SceneSelect";

/** New layers from bands by role, seen while they are set. */
export function DeriveCard() {
  const isBreaks = useDeriveStore((store) => store.kind === "breaks");
  return (
    <Card
      title="Derive"
      purpose="New layers from bands, by role; shown in a pane while you set them."
      action={isBreaks ? <KeepBreaks /> : <MakeLayers />}
    >
      <SceneSelect />
      <KindChoice />
      {isBreaks ? (
        <BreaksForm />
      ) : (
        <>
          <OperationForm />
          <AlsoFor />
          <DraftFacts />
        </>
      )}
      <DerivedList />
    </Card>
  );
}
