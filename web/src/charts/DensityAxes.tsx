import { niceTicks } from "./axis";
import type { Frame } from "./frame";

interface Props {
  readonly frame: Frame;
  readonly xTitle: string;
  readonly yTitle: string;
  readonly title: string;
}

const TICK_PX = 70;

/** Frame, ticks and titles of a density. */
export function DensityAxes({ frame, xTitle, yTitle, title }: Props) {
  const { left, top, width, height, x, y, toPixels } = frame;
  const quiet = "var(--chakra-colors-quiet)";
  const bottom = top + height;
  return (
    <g fontSize={11.5} fill={quiet} fontFamily="inherit">
      <path
        d={`M${left} ${top}v${height}h${width}`}
        fill="none"
        stroke="var(--chakra-colors-line)"
        strokeWidth={1}
      />
      {niceTicks(x[0], x[1], width / TICK_PX).map((tick) => (
        <text key={tick} x={left + toPixels([tick, y[0]])[0]} y={bottom + 14} textAnchor="middle">
          {tick}
        </text>
      ))}
      {niceTicks(y[0], y[1], Math.max(3, height / 40)).map((tick) => (
        <text key={tick} x={left - 5} y={top + toPixels([x[0], tick])[1] + 4} textAnchor="end">
          {tick}
        </text>
      ))}
      <text x={left + width / 2} y={bottom + 30} textAnchor="middle">
        {xTitle}
      </text>
      <text
        x={0}
        y={0}
        transform={`translate(12 ${top + height / 2}) rotate(-90)`}
        textAnchor="middle"
      >
        {yTitle}
      </text>
      {title !== "" && (
        <text x={left + width / 2} y={14} textAnchor="middle" fill="var(--chakra-colors-ink)">
          {title}
        </text>
      )}
    </g>
  );
}
