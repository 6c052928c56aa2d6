import { Card } from "../../shared/Card";
import { Part } from "../../shared/Part";
import { plural } from "../../shared/format";
import { ApplyChain } from "./ApplyChain";
import { BeforeAfter } from "./BeforeAfter";
import { Chain } from "./Chain";
import { CombinePart } from "./CombinePart";
import { MissingFactors } from "./MissingFactors";
import { ShiftPart } from "./ShiftPart";
import { StepTable } from "./StepTable";
import { useChosenScenes } from "./useChosenScenes";

/** Make the numbers mean something, and dates comparable. */
export function CorrectCard() {
  const { chosen } = useChosenScenes();
  return (
    <Card
      title="Correct"
      purpose="Haze, clouds, places and scales put right, for one date or for many at once."
      action={<ApplyChain />}
    >
      <Part title="Dates and what has been done" aside={`${chosen.length} chosen`}>
        <StepTable />
      </Part>
      <Part
        title={`Steps for ${chosen.length === 0 ? "the chosen scenes" : plural(chosen.length, "scene")}`}
      >
        <Chain />
        <MissingFactors />
      </Part>
      <BeforeAfter />
      <CombinePart />
      <ShiftPart />
    </Card>
  );
}
