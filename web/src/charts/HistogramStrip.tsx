import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import { niceTicks } from "./axis";

export interface Bins {
  low: number;
  high: number;
  counts: readonly number[];
}

export interface ValueMark {
  value: number;
  label: string;
  onMove: (value: number) => void;
}

interface Props {
  readonly bins: Bins;
  readonly label: string;
  readonly axisTitle: string;
  /** Values marked on the axis that can be dragged, and moved by the arrow keys. */
  readonly marks?: readonly ValueMark[];
  readonly height?: number;
}

const WIDTH = 306;
const USUAL_HEIGHT = 96;
const TICKS = 17;
const TITLE = 15;
const SIDE = 8;

/** The histogram of one band, with values that can be moved on it. */
export function HistogramStrip(props: Props) {
  const { bins, label, axisTitle, marks = [], height: tall = USUAL_HEIGHT } = props;
  const { low, high, counts } = bins;
  const foot = tall - TICKS - (axisTitle === "" ? 0 : TITLE);
  const most = Math.max(1, ...counts);
  const width = WIDTH - 2 * SIDE;
  const x = (value: number) => SIDE + ((value - low) / (high - low)) * width;
  const bar = width / counts.length;
  const height = (n: number) => Math.sqrt(n / most) * (foot - 6);
  const quiet = "var(--chakra-colors-quiet)";
  return (
    <svg viewBox={`0 0 ${WIDTH} ${tall}`} width="100%" role="group" aria-label={label}>
      {counts.map((n, i) => (
        <rect
          key={i}
          x={SIDE + i * bar}
          y={foot - height(n)}
          width={bar}
          height={height(n)}
          fill="var(--chakra-colors-quiet)"
          opacity={0.55}
        />
      ))}
      <path
        d={`M${SIDE} ${foot}H${WIDTH - SIDE}`}
        stroke="var(--chakra-colors-line)"
        strokeWidth={1}
      />
      {niceTicks(low, high, 5).map((tick) => (
        <text key={tick} x={x(tick)} y={foot + 13} textAnchor="middle" fontSize={11.5} fill={quiet}>
          {tick}
        </text>
      ))}
      <text x={WIDTH / 2} y={tall - 4} textAnchor="middle" fontSize={11.5} fill={quiet}>
        {axisTitle}
      </text>
      {marks.map((mark) => (
        <Mark
          key={mark.label}
          bins={bins}
          mark={mark}
          foot={foot}
          x={x(Math.min(Math.max(mark.value, low), high))}
        />
      ))}
    </svg>
  );
}

interface MarkProps {
  readonly bins: Bins;
  readonly mark: ValueMark;
  readonly foot: number;
  readonly x: number;
}

function Mark({ bins: { low, high }, mark, foot, x }: MarkProps) {
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
      <rect x={x - 8} y={0} width={16} height={foot} fill="transparent" />
      <path d={`M${x} 2V${foot}`} stroke="var(--chakra-colors-warm)" strokeWidth={2} />
      <path d={`M${x - 5} 2h10l-5 7z`} fill="var(--chakra-colors-warm)" />
    </g>
  );
}
