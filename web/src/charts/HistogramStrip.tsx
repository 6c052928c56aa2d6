import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import { niceTicks } from "./axis";

export interface Bins {
  low: number;
  high: number;
  counts: readonly number[];
}

interface Props {
  readonly bins: Bins;
  readonly label: string;
  readonly axisTitle: string;
  /** A value marked on the axis that can be dragged, and moved by the arrow keys. */
  readonly mark: { value: number; label: string; onMove: (value: number) => void } | null;
}

const WIDTH = 306;
const HEIGHT = 96;
const BOTTOM = 32;
const SIDE = 8;

/** The histogram of one band, with a value that can be moved on it. */
export function HistogramStrip({ bins, label, axisTitle, mark }: Props) {
  const { low, high, counts } = bins;
  const most = Math.max(1, ...counts);
  const width = WIDTH - 2 * SIDE;
  const x = (value: number) => SIDE + ((value - low) / (high - low)) * width;
  const bar = width / counts.length;
  const height = (n: number) => Math.sqrt(n / most) * (HEIGHT - BOTTOM - 6);
  const quiet = "var(--chakra-colors-quiet)";
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="group" aria-label={label}>
      {counts.map((n, i) => (
        <rect
          key={i}
          x={SIDE + i * bar}
          y={HEIGHT - BOTTOM - height(n)}
          width={bar}
          height={height(n)}
          fill="var(--chakra-colors-quiet)"
          opacity={0.55}
        />
      ))}
      <path
        d={`M${SIDE} ${HEIGHT - BOTTOM}H${WIDTH - SIDE}`}
        stroke="var(--chakra-colors-line)"
        strokeWidth={1}
      />
      {niceTicks(low, high, 5).map((tick) => (
        <text
          key={tick}
          x={x(tick)}
          y={HEIGHT - BOTTOM + 13}
          textAnchor="middle"
          fontSize={11.5}
          fill={quiet}
        >
          {tick}
        </text>
      ))}
      <text x={WIDTH / 2} y={HEIGHT - 4} textAnchor="middle" fontSize={11.5} fill={quiet}>
        {axisTitle}
      </text>
      {mark && <Mark bins={bins} mark={mark} x={x(Math.min(Math.max(mark.value, low), high))} />}
    </svg>
  );
}

interface MarkProps {
  readonly bins: Bins;
  readonly mark: NonNullable<Props["mark"]>;
  readonly x: number;
}

function Mark({ bins: { low, high }, mark, x }: MarkProps) {
  const held = useRef(false);
  const step = (high - low) / 200;
  const drag = (event: PointerEvent<SVGGElement>) => {
    if (!held.current) return;
    const frame = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!frame) return;
    const share = ((event.clientX - frame.left) / frame.width) * WIDTH - SIDE;
    mark.onMove(low + (share / (WIDTH - 2 * SIDE)) * (high - low));
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    mark.onMove(mark.value + by * step);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={mark.label}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={mark.value}
      style={{ cursor: "ew-resize", touchAction: "none" }}
      onPointerDown={(event) => {
        held.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={drag}
      onPointerUp={() => {
        held.current = false;
      }}
      onKeyDown={key}
    >
      <rect x={x - 8} y={0} width={16} height={HEIGHT - BOTTOM} fill="transparent" />
      <path d={`M${x} 2V${HEIGHT - BOTTOM}`} stroke="var(--chakra-colors-warm)" strokeWidth={2} />
      <path d={`M${x - 5} 2h10l-5 7z`} fill="var(--chakra-colors-warm)" />
    </g>
  );
}
