/** Numbers as they are read: thousands apart, sensible digits, units left to the caller. */
const GROUP = "\u202f";

export function formatCount(n: number): string {
  return Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, GROUP);
}

export function formatFixed(value: number, digits: number): string {
  const [whole = "", rest] = value.toFixed(digits).split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, GROUP);
  return rest === undefined ? grouped : `${grouped}.${rest}`;
}

export function formatHectares(ha: number): string {
  return formatFixed(ha, ha >= 100 ? 0 : ha >= 1 || ha === 0 ? 1 : 2);
}

export function formatPercent(share: number | null, digits = 1): string {
  return share === null ? "–" : `${(100 * share).toFixed(digits)} %`;
}

export function formatSeconds(seconds: number): string {
  const whole = Math.max(1, Math.round(seconds));
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${whole % 60} s`;
}

// A day is a day: a browser west of Greenwich must not show the one before.
const DAY = { day: "numeric", year: "numeric", timeZone: "UTC" } as const;
const DATE = new Intl.DateTimeFormat("en-GB", { ...DAY, month: "long" });

/** With three letters for every month. */
export function formatShortDate(iso: string | null): string {
  return formatDate(iso).replace(/([A-Z][a-z]{2})[a-z]+/, "$1");
}

/** Time of day, hours and minutes. */
export function formatTime(iso: string): string {
  return new Date(iso).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
}

export function formatDate(iso: string | null): string {
  return iso === null ? "no date" : DATE.format(new Date(iso));
}

export function formatSize(bytes: number): string {
  const units = ["B", "kB", "MB", "GB", "TB"];
  const power = bytes < 1 ? 0 : Math.min(units.length - 1, Math.floor(Math.log10(bytes) / 3));
  return `${formatFixed(bytes / 1000 ** power, power > 1 ? 1 : 0)} ${units[power] ?? ""}`;
}

/** A value with as many digits as tell something. */
export function formatValue(value: number | null): string {
  if (value === null) return "–";
  if (Math.abs(value) < 10) return String(Number(value.toFixed(3)));
  return formatFixed(value, Number.isInteger(value) ? 0 : 1);
}

/** A value in a column of its like: always as many digits. */
export function formatDigits(value: number | null): string {
  if (value === null) return "–";
  return Math.abs(value) < 10 ? value.toFixed(3) : formatFixed(value, 0);
}

/** A length with as many digits as are worth saying: 28.5, not 28.49999999927454. */
export function formatLength(value: number): string {
  return String(Number(value.toPrecision(6)));
}

export function plural(n: number, one: string, many = `${one}s`): string {
  return `${formatCount(n)} ${n === 1 ? one : many}`;
}

/** East and north, metres or degrees. */
export function formatCoordinate([x, y]: readonly [number, number], inDegrees: boolean): string {
  if (inDegrees) return `${x.toFixed(5)} E, ${y.toFixed(5)} N`;
  return `${formatCount(x)} E, ${formatCount(y)} N`;
}
