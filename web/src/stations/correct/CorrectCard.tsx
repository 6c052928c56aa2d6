import { FormSubject } from "../../forms/subject";
import { Card } from "../../shared/Card";
import { Part } from "../../shared/Part";
import { ApplyChain } from "./ApplyChain";
import { BeforeAfter } from "./BeforeAfter";
import { Chain } from "./Chain";
import { CombinePart } from "./CombinePart";
import { MapTable } from "./MapTable";
import { MissingFactors } from "./MissingFactors";
import { ShiftPart } from "./ShiftPart";
import { StepTable } from "./StepTable";
import { chosenWords } from "./chosenWords";
import { useChosenMaps, useChosenScenes } from "./useChosenScenes";

/** Make the numbers mean something, and dates comparable. */
export function CorrectCard() {
  const { scenes, chosen } = useChosenScenes();
  const { chosenMaps } = useChosenMaps();
  return (
    <Card
      title="Correct"
      purpose="Haze, clouds, places and scales put right, for one date or for many at once."
      action={<ApplyChain />}
    >
      <Part title="Dates and what has been done" aside={`${chosen.length} chosen`}>
        <StepTable />
      </Part>
      <MapTable />
      <Part title={`Steps for ${chosenWords(chosen.length, chosenMaps.length)}`}>
        <FormSubject value={{ scenes, chosen }}>
          <Chain />
        </FormSubject>
        <MissingFactors />
      </Part>
      <BeforeAfter />
      <FormSubject value={{ scenes, chosen }}>
        <CombinePart />
      </FormSubject>
      <ShiftPart />
    </Card>
  );
}
