import type { ClassMap } from "../../api/types";
import { ClassTable } from "../../shared/ClassTable";
import { formatCount, formatHectares } from "../../shared/format";

interface Props {
  readonly legend: ClassMap["legend"];
  readonly label: string;
}

/** Legend, pixels, percent of what is classified, hectares. */
export function AreaTable({ legend, label }: Props) {
  const rows = legend.map((row) => ({
    ...row,
    cells: [
      row.pixels === null ? "–" : formatCount(row.pixels),
      row.percent === null ? "–" : row.percent.toFixed(1),
      row.hectares === null ? "–" : formatHectares(row.hectares),
    ],
  }));
  return <ClassTable label={label} columns={["pixels", "%", "ha"]} rows={rows} />;
}
