const MONTHS = [
  "january",
  "february",
  "march",
  "april",
  "may",
  "june",
  "july",
  "august",
  "september",
  "october",
  "november",
  "december",
];

/** A typed day as year-month-day: 2024-07-18, 18 July 2024, 18 Jul 2024 or 18.7.2024. Null for what
 * is no day, and for 7/8/2024, which is two. */
export function parseDay(text: string): string | null {
  const said = text.trim().toLowerCase();
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(said);
  if (iso) return dayOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const dotted = /^(\d{1,2})\.\s*(\d{1,2})\.\s*(\d{4})$/.exec(said);
  if (dotted) return dayOf(Number(dotted[3]), Number(dotted[2]), Number(dotted[1]));
  const named = /^(\d{1,2})\.?\s+([a-z]{3,})\.?\s+(\d{4})$/.exec(said);
  if (!named) return null;
  const month = MONTHS.findIndex((name) => name.startsWith(named[2] ?? "?"));
  return month === -1 ? null : dayOf(Number(named[3]), month + 1, Number(named[1]));
}

function dayOf(year: number, month: number, day: number): string | null {
  const pad = (n: number, length: number) => String(n).padStart(length, "0");
  const iso = `${pad(year, 4)}-${pad(month, 2)}-${pad(day, 2)}`;
  const date = new Date(`${iso}T00:00:00Z`);
  const isDay = !Number.isNaN(date.getTime()) && date.toISOString().startsWith(iso);
  return isDay && year >= 1 ? iso : null;
}
