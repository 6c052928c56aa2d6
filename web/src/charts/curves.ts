/** A curve; `spread` is drawn as a band behind it. */
export interface Curve {
  name: string;
  /** Where there is little room. */
  short?: string;
  /** Null: the ink of the theme. */
  colour: string | null;
  dashed?: boolean;
  /** Steps from point to point, filled below: a histogram. */
  stepped?: boolean;
  /** Without marks on its points: there are too many. */
  plain?: boolean;
  /** A gap where the value is null. */
  points: readonly (readonly [number, number | null])[];
  spread?: readonly (readonly [x: number, low: number, high: number])[];
}

export interface AxisMark {
  at: number;
  label: string;
}

export interface Axis {
  title: string;
  /** Days as milliseconds. */
  time?: boolean;
  log?: boolean;
  /** Only whole numbers mean something. */
  whole?: boolean;
  /** A place on the axis, in the words over the values there; its number, if nothing is said. */
  words?: (at: number) => string;
}

/** A stretch of the x axis with a tint behind the curves. */
export interface Interval {
  from: number;
  to: number;
  label: string;
  /** That of the theme where nothing is said. */
  colour?: string;
}

/** Quoted; what a spreadsheet would take for a formula gets an apostrophe in front. */
function quote(text: string): string {
  const plain = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return `"${plain.replaceAll('"', '""')}"`;
}

/** A table for a spreadsheet. */
export function rowsToCsv(rows: readonly (readonly (string | number)[])[]): string {
  const words = (cell: string | number) => (typeof cell === "string" ? quote(cell) : cell);
  return rows.map((row) => row.map(words).join(",")).join("\n") + "\n";
}

/** Rows for a spreadsheet: one line per x, one column per curve. Without `xWords` x is one column. */
export function curvesToCsv(
  curves: readonly Curve[],
  xNames: readonly string[],
  xWords: (x: number) => readonly (string | number)[] = (x) => [x],
): string {
  const xs = [...new Set(curves.flatMap((c) => c.points.map(([x]) => x)))].sort((a, b) => a - b);
  const byX = curves.map((c) => new Map(c.points));
  const head = [...xNames, ...curves.map((c) => quote(c.name))];
  const rows = xs.map((x) => [...xWords(x), ...byX.map((values) => values.get(x) ?? "")]);
  return [head, ...rows].map((row) => row.join(",")).join("\n") + "\n";
}
