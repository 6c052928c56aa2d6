import type { Plane } from "../../api/types";

/** One line per cell that holds pixels: the middle of the cell and their number. */
export function densityCsv({ x, y, counts }: Plane): string {
  const middle = ({ low, high }: Plane["x"], i: number, n: number) =>
    low + ((i + 0.5) / n) * (high - low);
  const rows = counts.flatMap((row, r) =>
    row.flatMap((n, c) =>
      n > 0 ? [[middle(x, c, row.length), middle(y, r, counts.length), n].join(",")] : [],
    ),
  );
  return ["x,y,pixels", ...rows].join("\n") + "\n";
}
