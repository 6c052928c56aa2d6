import { niceTicks } from "./axis";

export interface TimeCurve {
  name: string;
  colour: string;
  /** Days as numbers of milliseconds; a gap where the value is null. */
  points: readonly { at: number; value: number | null }[];
}

interface Props {
  readonly curves: readonly TimeCurve[];
  readonly yTitle: string;
  readonly label: string;
}

const WIDTH = 306;
const HEIGHT = 150;
const LEFT = 40;
const BOTTOM = 26;
const TOP = 8;
const RIGHT = 8;

/** Values over dates, small enough for a card. */
export function TimeStrip({ curves, yTitle, label }: Props) {
  const points = curves.flatMap((curve) => curve.points);
  const values = points.flatMap(({ value }) => (value === null ? [] : [value]));
  if (values.length === 0) return null;
  const times = points.map(({ at }) => at);
  const ends = [Math.min(...times), Math.max(...times)] as const;
  const pad = Math.max((Math.max(...values) - Math.min(...values)) * 0.08, 1e-6);
  const low = Math.min(...values) - pad;
  const high = Math.max(...values) + pad;
  const x = (at: number) =>
    LEFT + ((at - ends[0]) / Math.max(1, ends[1] - ends[0])) * (WIDTH - LEFT - RIGHT);
  const y = (value: number) =>
    HEIGHT - BOTTOM - ((value - low) / (high - low)) * (HEIGHT - BOTTOM - TOP);
  const quiet = "var(--chakra-colors-quiet)";
  const line = "var(--chakra-colors-line)";
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={label}>
      {niceTicks(low, high, 4).map((tick) => (
        <g key={tick}>
          <path d={`M${LEFT} ${y(tick)}H${WIDTH - RIGHT}`} stroke={line} strokeWidth={1} />
          <text x={LEFT - 5} y={y(tick) + 4} textAnchor="end" fontSize={11.5} fill={quiet}>
            {tick}
          </text>
        </g>
      ))}
      <text
        x={11}
        y={(HEIGHT - BOTTOM) / 2}
        transform={`rotate(-90 11 ${(HEIGHT - BOTTOM) / 2})`}
        textAnchor="middle"
        fontSize={11.5}
        fill={quiet}
      >
        {yTitle}
      </text>
      {monthsBetween(ends[0], ends[1]).map(({ at, name }) => (
        <text key={at} x={x(at)} y={HEIGHT - 8} textAnchor="middle" fontSize={11.5} fill={quiet}>
          {name}
        </text>
      ))}
      {curves.map((curve) => (
        <g key={curve.name} stroke={curve.colour} fill={curve.colour}>
          <path d={pathOf(curve, x, y)} fill="none" strokeWidth={1.8} />
          {curve.points.map(({ at, value }) =>
            value === null ? null : <circle key={at} cx={x(at)} cy={y(value)} r={2.2} />,
          )}
        </g>
      ))}
    </svg>
  );
}

function pathOf(
  { points }: TimeCurve,
  x: (at: number) => number,
  y: (value: number) => number,
): string {
  let pen = "M";
  return points
    .map(({ at, value }) => {
      if (value === null) {
        pen = "M";
        return "";
      }
      const part = `${pen}${x(at).toFixed(1)} ${y(value).toFixed(1)}`;
      pen = "L";
      return part;
    })
    .join("");
}

const MONTH = new Intl.DateTimeFormat("en-GB", { month: "short", timeZone: "UTC" });

/** The first days of some months, few enough to be read. */
function monthsBetween(from: number, to: number): { at: number; name: string }[] {
  const first = new Date(from);
  const all: { at: number; name: string }[] = [];
  for (let m = 0; m < 400; m++) {
    const at = Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + m, 1);
    if (at > to) break;
    if (at >= from) all.push({ at, name: MONTH.format(at) });
  }
  const every = Math.ceil(all.length / 6);
  return all.filter((_, i) => i % every === 0);
}

/** One line per date, one column per curve. */
export function timeToCsv(curves: readonly TimeCurve[]): string {
  const dates = [...new Set(curves.flatMap((c) => c.points.map((p) => p.at)))].sort(
    (a, b) => a - b,
  );
  const head = ["date", ...curves.map((c) => `"${c.name.replaceAll('"', '""')}"`)].join(",");
  const rows = dates.map((at) => {
    const values = curves.map((c) => c.points.find((p) => p.at === at)?.value ?? "");
    return [new Date(at).toISOString().slice(0, 10), ...values].join(",");
  });
  return [head, ...rows].join("\n") + "\n";
}
