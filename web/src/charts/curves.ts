/** A curve over wavelength; `spread` is drawn as a band behind it. */
export interface Curve {
  name: string;
  /** Null: the ink of the theme. */
  colour: string | null;
  dashed?: boolean;
  points: readonly (readonly [number, number])[];
  spread?: readonly (readonly [x: number, low: number, high: number])[];
}

export interface AxisMark {
  at: number;
  label: string;
}

/** Rows for a spreadsheet: one line per wavelength, one column per curve. */
export function curvesToCsv(curves: readonly Curve[], marks: readonly AxisMark[]): string {
  const quote = (text: string) => `"${text.replaceAll('"', '""')}"`;
  const head = ["wavelength_um", "band", ...curves.map((c) => quote(c.name))].join(",");
  const rows = marks.map(({ at, label }) => {
    const values = curves.map((c) => c.points.find(([x]) => x === at)?.[1] ?? "");
    return [at, label, ...values].join(",");
  });
  return [head, ...rows].join("\n") + "\n";
}
