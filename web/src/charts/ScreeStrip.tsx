interface Props {
  /** Of each component, first to last. */
  readonly values: readonly number[];
  /** How many are kept; the others are pale. */
  readonly n: number;
  readonly unit: string;
  readonly label: string;
}

const WIDTH = 306;
const HEIGHT = 92;
const FOOT = 74;
const HEAD = 14;

/** Bars that fall: how much each component holds. */
export function ScreeStrip({ values, n, unit, label }: Props) {
  const shown = values.slice(0, 16);
  const most = Math.max(...shown, 1e-12);
  const step = WIDTH / shown.length;
  const words = shown.map((v) => `${v.toPrecision(3)} ${unit}`).join(", ");
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="img"
      aria-label={`${label}: ${words}`}
    >
      {shown.map((value, i) => {
        const height = (value / most) * (FOOT - HEAD);
        const x = (i + 0.5) * step;
        return (
          <g key={i}>
            <rect
              x={x - step * 0.32}
              y={FOOT - height}
              width={step * 0.64}
              height={Math.max(height, 0.8)}
              fill={i < n ? "var(--chakra-colors-cool)" : "var(--chakra-colors-quiet)"}
              opacity={i < n ? 1 : 0.45}
            />
            <text
              x={x}
              y={FOOT - height - 3}
              textAnchor="middle"
              fontSize={10.5}
              fill="var(--chakra-colors-ink)"
            >
              {digits(value)}
            </text>
            <text
              x={x}
              y={HEIGHT - 5}
              textAnchor="middle"
              fontSize={11}
              fill="var(--chakra-colors-quiet)"
            >
              {i === 0 ? `1, ${unit}` : i + 1}
            </text>
          </g>
        );
      })}
      <path d={`M0 ${FOOT}H${WIDTH}`} stroke="var(--chakra-colors-line)" strokeWidth={1} />
    </svg>
  );
}

function digits(value: number): string {
  if (value >= 100) return value.toFixed(0);
  return value >= 10 ? value.toFixed(1) : value.toFixed(2);
}
