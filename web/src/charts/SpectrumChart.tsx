import { LineChart } from "echarts/charts";
import { GridComponent, TooltipComponent } from "echarts/components";
import { type EChartsType, init, use as register } from "echarts/core";
import { CanvasRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";

import type { AxisMark, Curve } from "./curves";
import { spectrumOption } from "./spectrumOption";

register([LineChart, GridComponent, TooltipComponent, CanvasRenderer]);

interface Props {
  readonly curves: readonly Curve[];
  readonly marks: readonly AxisMark[];
  readonly xTitle: string;
  readonly yTitle: string;
  /** In words, for those who do not see the chart. */
  readonly label: string;
  /** Called with a way to take the chart as a PNG data address. */
  readonly onReady: (toPng: () => string) => void;
}

export default function SpectrumChart({ curves, marks, xTitle, yTitle, label, onReady }: Props) {
  const target = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType>(null);

  useEffect(() => {
    const element = target.current;
    if (!element) return;
    const made = init(element);
    chart.current = made;
    onReady(() => made.getDataURL({ pixelRatio: 2, backgroundColor: token(element, "card") }));
    const observer = new ResizeObserver(() => made.resize());
    observer.observe(element);
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
      const option = spectrumOption(curves, marks, { xTitle, yTitle }, inkOf(element));
      chart.current?.setOption(option, { notMerge: true });
    };
    draw();
    // A canvas does not follow the theme by itself.
    const themes = new MutationObserver(draw);
    themes.observe(document.documentElement, { attributeFilter: ["class"] });
    return () => themes.disconnect();
  }, [curves, marks, xTitle, yTitle]);

  return <div ref={target} role="img" aria-label={label} style={{ height: "100%" }} />;
}

function inkOf(element: HTMLElement) {
  return {
    ink: token(element, "ink"),
    quiet: token(element, "quiet"),
    line: token(element, "line"),
    card: token(element, "card"),
  };
}

function token(element: HTMLElement, name: string): string {
  return getComputedStyle(element).getPropertyValue(`--chakra-colors-${name}`).trim();
}
