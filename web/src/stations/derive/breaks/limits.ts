import { nextCode } from "../../../shared/classCode";
import type { DraftRow } from "./breaksStore";

/** Every limit once, from low to high. */
export function limitsOf(rows: readonly DraftRow[]): number[] {
  const all = rows.flatMap(({ low, high }) => [low, high]);
  const values = all.filter((one): one is number => typeof one === "number");
  return [...new Set(values)].sort((a, b) => a - b);
}

/** A limit that two rows share moves in both, and never past its neighbours. */
export function moveLimit(rows: readonly DraftRow[], from: number, to: number): DraftRow[] {
  const limits = limitsOf(rows);
  const at = limits.indexOf(from);
  const below = limits[at - 1] ?? -Infinity;
  const above = limits[at + 1] ?? Infinity;
  if (!(below < to && to < above)) return [...rows];
  const move = (limit: number | null | undefined) => (limit === from ? to : (limit ?? null));
  return rows.map((row) => changeRow(row, { low: move(row.low), high: move(row.high) }));
}

/** A changed row; a name that only tells its limits follows them. */
export function changeRow(row: DraftRow, part: Partial<DraftRow>): DraftRow {
  const next = { ...row, ...part };
  return row.name === limitWords(row) && part.name === undefined
    ? { ...next, name: limitWords(next) }
    : next;
}

function limitWords({ low, high }: DraftRow): string {
  return `${low ?? ""} to ${high ?? ""}`;
}

/** A new row above the others, where they end. */
export function addRow(rows: readonly DraftRow[]): DraftRow[] {
  const top = limitsOf(rows).at(-1) ?? 0;
  const code = nextCode(rows.map((row) => row.code));
  const key = Math.max(-1, ...rows.map((row) => row.key)) + 1;
  const last = rows.at(-1);
  const closed = last && last.high == null ? top + 1 : top;
  const old = rows.map((row) =>
    row === last && row.high == null ? { ...row, high: closed } : row,
  );
  const colour = COLOURS[(code - 1) % COLOURS.length] ?? "#888888";
  const low = rows.length === 0 ? null : closed;
  return [...old, { key, code, name: `Class ${code}`, colour, low, high: null }];
}

/** The default class colours, safe for colour-blind readers: Paul Tol's muted scheme. */
const COLOURS = ["#332288", "#88ccee", "#44aa99", "#117733", "#999933", "#ddcc77", "#cc6677"];
