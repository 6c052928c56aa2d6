import type { EChartsCoreOption } from "echarts/core";

import type { AxisMark, Curve } from "./curves";

interface Colours {
  ink: string;
  quiet: string;
  line: string;
  card: string;
}

const FONT = "'Atkinson Hyperlegible Next Variable', sans-serif";

/** Reflectance against wavelength, the bands named where they lie. */
export function spectrumOption(
  curves: readonly Curve[],
  marks: readonly AxisMark[],
  titles: { xTitle: string; yTitle: string },
  colours: Colours,
): EChartsCoreOption {
  const text = { color: colours.quiet, fontFamily: FONT, fontSize: 11.5 };
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    grid: { left: 46, right: 14, top: 12, bottom: 38 },
    tooltip: {
      trigger: "axis",
      backgroundColor: colours.card,
      borderColor: colours.line,
      textStyle: { ...text, color: colours.ink },
      formatter: (items: unknown) => describe(items, marks),
    },
    xAxis: {
      type: "value",
      ...xRange(marks.map((mark) => mark.at)),
      name: titles.xTitle,
      nameLocation: "middle",
      nameGap: 22,
      nameTextStyle: text,
      axisLabel: text,
      axisLine: { lineStyle: { color: colours.line } },
      splitLine: { show: false },
    },
    yAxis: {
      type: "value",
      min: ({ min }: { min: number }) => Math.min(0, min),
      name: titles.yTitle,
      nameLocation: "middle",
      nameGap: 32,
      nameTextStyle: text,
      axisLabel: text,
      splitNumber: 3,
      splitLine: { lineStyle: { color: colours.line, opacity: 0.7 } },
    },
    series: curves.flatMap((curve) => {
      const colour = curve.colour ?? colours.ink;
      return [...spreadOf(curve, colour), lineOf(curve, colour)];
    }),
  };
}

/** From end to end, marked every fifth of a micrometre where that can be read. */
function xRange(places: readonly number[]) {
  const min = Math.floor(10 * Math.min(...places)) / 10;
  const max = Math.ceil(10 * Math.max(...places)) / 10;
  return max - min < 3 ? { min, max, interval: 0.2 } : { min, max };
}

function lineOf(curve: Curve, color: string) {
  return {
    name: curve.name,
    type: "line",
    data: curve.points,
    symbolSize: 6,
    itemStyle: { color },
    lineStyle: { color, width: 2, type: curve.dashed ? "dashed" : "solid" },
    z: 3,
  };
}

/** A band between two lines: an invisible one below, and its height filled on top of it. */
function spreadOf(curve: Curve, color: string) {
  if (!curve.spread) return [];
  const shared = {
    type: "line",
    stack: `spread of ${curve.name}`,
    symbol: "none",
    lineStyle: { opacity: 0 },
    silent: true,
    tooltip: { show: false },
  };
  return [
    { ...shared, data: curve.spread.map(([x, low]) => [x, low]) },
    {
      ...shared,
      data: curve.spread.map(([x, low, high]) => [x, high - low]),
      areaStyle: { color, opacity: 0.22 },
    },
  ];
}

interface TooltipItem {
  seriesName?: string;
  marker?: string;
  value: [number, number];
}

function describe(items: unknown, marks: readonly AxisMark[]): string {
  const shown = (items as TooltipItem[]).filter((item) => !item.seriesName?.startsWith("series"));
  const [first] = shown;
  if (!first) return "";
  const mark = marks.find((m) => m.at === first.value[0]);
  const lines = shown.map(
    (item) =>
      `${item.marker ?? ""}${escapeHtml(item.seriesName ?? "")} ${item.value[1].toFixed(3)}`,
  );
  return [`<b>${mark?.label ?? ""}</b> ${first.value[0].toFixed(3)} µm`, ...lines].join("<br>");
}

function escapeHtml(text: string): string {
  return text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
}
