import { type ReactNode, useEffect, useRef, useState } from "react";

import { DensityAxes } from "./DensityAxes";
import { drawDensity } from "./drawDensity";
import { type Frame, frameOf } from "./frame";
import { paintDensity } from "./paintDensity";
import type { Ranges } from "./ranges";
import { inksOf, onTheme } from "./theme";
import { useDragRange } from "./useDragRange";
import { useLasso } from "./useLasso";

/** Pixels per cell: rows from low to high y, columns from low to high x. */
export interface DensityShape {
  x: { low: number; high: number };
  y: { low: number; high: number };
  counts: readonly (readonly number[])[];
}

interface Props {
  readonly density: DensityShape;
  readonly xTitle: string;
  readonly yTitle: string;
  readonly title: string;
  readonly label: string;
  /** Dragging circles a cloud instead of looking closer. */
  readonly circling: boolean;
  readonly onCircled: (corners: [number, number][]) => void;
  readonly onRanges: (ranges: Ranges) => void;
  readonly onReady: (toPng: () => string) => void;
  /** Drawn on top, in values. */
  readonly children: (frame: Frame) => ReactNode;
}

/** How pixels lie between two bands, with what is drawn over them. */
export function DensityPlot(props: Props) {
  const { density, title, label, circling, onReady } = props;
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState<[number, number]>([300, 200]);
  const frame = frameOf(size, density, title !== "");

  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const draw = () => {
      if (canvas.current) drawDensity(canvas.current, density.counts, inksOf(canvas.current).ink);
    };
    draw();
    return onTheme(draw);
  }, [density]);

  useEffect(() => {
    onReady(() => {
      const [element, picture, drawn] = [host.current, canvas.current, svg.current];
      return element && picture && drawn ? paintDensity(element, picture, drawn, frame) : "";
    });
  });

  const zoom = useDragRange(frame.toValues, props.onRanges);
  const lasso = useLasso(frame.toValues, props.onCircled);
  const active = circling ? lasso : zoom;
  return (
    <div
      ref={host}
      role="group"
      aria-label={label}
      style={{ position: "relative", height: "100%", cursor: "crosshair", touchAction: "none" }}
      {...active.handlers}
    >
      <canvas
        ref={canvas}
        style={{
          position: "absolute",
          left: frame.left,
          top: frame.top,
          width: frame.width,
          height: frame.height,
          imageRendering: "pixelated",
        }}
      />
      <svg
        ref={svg}
        width={size[0]}
        height={size[1]}
        style={{ position: "absolute", inset: 0, pointerEvents: "none" }}
      >
        <DensityAxes frame={frame} xTitle={props.xTitle} yTitle={props.yTitle} title={title} />
        <svg
          x={frame.left}
          y={frame.top}
          width={frame.width}
          height={frame.height}
          overflow="hidden"
        >
          {props.children({ ...frame, left: 0, top: 0 })}
        </svg>
        {circling && lasso.line}
      </svg>
      {!circling && zoom.box}
    </div>
  );
}
