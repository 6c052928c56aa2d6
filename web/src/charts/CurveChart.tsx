import { LineChart } from "echarts/charts";
import {
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
} from "echarts/components";
import { type EChartsType, init, use as register } from "echarts/core";
import { CanvasRenderer } from "echarts/renderers";
import { useEffect, useEffectEvent, useRef } from "react";

import { curveOption, type CurvePlot } from "./curveOption";
import { type Ranges } from "./ranges";
import { inksOf, onTheme } from "./theme";
import { useDragRange } from "./useDragRange";

register([
  LineChart,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TitleComponent,
  TooltipComponent,
  CanvasRenderer,
]);

interface Props extends CurvePlot {
  /** In words, for those who do not see the chart. */
  readonly label: string;
  /** Called with a way to take the chart as a PNG data address. */
  readonly onReady: (toPng: () => string) => void;
  /** A range was dragged out; a double click wants all of it again. */
  readonly onRanges: (ranges: Ranges) => void;
  /** Where on the x axis the pointer is; null when it has left. */
  readonly onPointer?: ((x: number | null) => void) | undefined;
  /** A place on the x axis was clicked. */
  readonly onPick?: ((x: number) => void) | undefined;
}

interface PointerPlace {
  offsetX: number;
  offsetY: number;
}

/** Curves on axes that can be zoomed by dragging. */
export default function CurveChart(props: Props) {
  const { label, onReady, onRanges, onPointer, onPick, ...plot } = props;
  const target = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType>(null);
  const tellPointer = useEffectEvent((x: number | null) => onPointer?.(x));
  const tellPick = useEffectEvent((x: number | null) => x !== null && onPick?.(x));

  useEffect(() => {
    const element = target.current;
    if (!element) return;
    const made = init(element);
    chart.current = made;
    onReady(() => made.getDataURL({ pixelRatio: 2, backgroundColor: inksOf(element).card }));
    const observer = new ResizeObserver(() => made.resize());
    observer.observe(element);
    const placeOf = ({ offsetX, offsetY }: PointerPlace) =>
      made.containPixel({ gridIndex: 0 }, [offsetX, offsetY])
        ? made.convertFromPixel({ xAxisIndex: 0 }, offsetX)
        : null;
    made.getZr().on("mousemove", (event) => tellPointer(placeOf(event)));
    made.getZr().on("click", (event) => tellPick(placeOf(event)));
    made.getZr().on("globalout", () => tellPointer(null));
    return () => {
      observer.disconnect();
      made.dispose();
      chart.current = null;
    };
  }, [onReady]);

  useEffect(() => {
    const element = target.current;
    if (!element) return;
    const draw = () => {
      chart.current?.setOption(curveOption(plot, inksOf(element)), { notMerge: true });
    };
    draw();
    return onTheme(draw);
  });

  const toValues = (at: [number, number]): [number, number] => {
    const found: number[] | undefined = chart.current?.convertFromPixel({ gridIndex: 0 }, at);
    return [found?.[0] ?? 0, found?.[1] ?? 0];
  };
  const { box, handlers } = useDragRange(toValues, onRanges);

  return (
    <div style={{ position: "relative", height: "100%" }} {...handlers}>
      <div ref={target} role="img" aria-label={label} style={{ height: "100%" }} />
      {box}
    </div>
  );
}
