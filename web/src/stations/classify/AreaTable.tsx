import { useState } from "react";

import { useClasses } from "../../api/queries/training";
import type { ClassMap } from "../../api/types";
import { ClassTable } from "../../shared/ClassTable";
import { formatCount, formatHectares } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { UpperToggle } from "../../shared/UpperToggle";
import { atUpperLevel } from "./upperLevel";

interface Props {
  readonly legend: ClassMap["legend"];
  readonly label: string;
}

/** Legend, pixels, percent of what is classified, hectares; at either level of the scheme. */
export function AreaTable({ legend, label }: Props) {
  const { data: classes = [] } = useClasses(useStudyId());
  const [upper, setUpper] = useState(false);
  const above = atUpperLevel(legend, classes);
  const rows = (upper ? above : legend).map((row) => ({
    ...row,
    cells: [
      row.pixels === null ? "–" : formatCount(row.pixels),
      row.percent === null ? "–" : row.percent.toFixed(1),
      row.hectares === null ? "–" : formatHectares(row.hectares),
    ],
  }));
  return (
    <>
      {above.length < legend.length && <UpperToggle upper={upper} onUpper={setUpper} />}
      <ClassTable label={label} columns={["pixels", "%", "ha"]} rows={rows} />
    </>
  );
}
