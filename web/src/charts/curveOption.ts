import type { EChartsCoreOption } from "echarts/core";

import type { Axis, AxisMark, Curve, Interval } from "./curves";
import type { Ranges } from "./ranges";
import { FONT, type Inks } from "./theme";

export interface CurvePlot {
  readonly curves: readonly Curve[];
  readonly xAxis: Axis;
  readonly yAxis: Axis;
  /** Names of places on the x axis. */
  readonly marks?: readonly AxisMark[];
  readonly intervals?: readonly Interval[];
  /** Places on the x axis with an upright line through the curves. */
  readonly uprights?: readonly number[];
  readonly ranges: Ranges;
  readonly title: string;
}

/** Curves over wavelength, value, distance or time. */
export function curveOption(plot: CurvePlot, inks: Inks): EChartsCoreOption {
  const { curves, xAxis, yAxis, marks = [], intervals = [], ranges, title } = plot;
  const text = { color: inks.quiet, fontFamily: FONT, fontSize: 11.5 };
  const name = { nameLocation: "middle", nameTextStyle: text };
  const numbers = { ...text, formatter: tickWords };
  const series = curves.flatMap((curve) => {
    const colour = curve.colour ?? inks.ink;
    return [...spreadOf(curve, colour), lineOf(curve, colour)];
  });
  const [first] = series;
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    title: { text: title, left: "center", top: 2, textStyle: { ...text, color: inks.ink } },
    grid: { left: 52, right: 14, top: title === "" ? 10 : 26, bottom: 36 },
    tooltip: {
      trigger: "axis",
      confine: true,
      backgroundColor: inks.card,
      borderColor: inks.line,
      textStyle: { ...text, color: inks.ink },
      formatter: (items: unknown) => describe(items, xAxis, marks),
    },
    xAxis: {
      type: xAxis.time ? "time" : "value",
      ...(ranges.x ? { min: ranges.x[0], max: ranges.x[1] } : ends(curves, marks)),
      name: xAxis.title,
      minInterval: leastStep(xAxis),
      nameGap: 21,
      ...name,
      // The ends are those of the data, and no round numbers.
      axisLabel: xAxis.time ? text : { ...numbers, showMinLabel: false, showMaxLabel: false },
      axisLine: { lineStyle: { color: inks.line } },
      splitLine: { show: false },
    },
    yAxis: {
      type: yAxis.log ? "log" : "value",
      ...(ranges.y
        ? { min: ranges.y[0], max: ranges.y[1] }
        : !yAxis.log && { min: ({ min }: { min: number }) => Math.min(0, min) }),
      name: yAxis.title,
      nameGap: 38,
      ...name,
      axisLabel: numbers,
      splitNumber: 3,
      splitLine: { lineStyle: { color: inks.line, opacity: 0.7 } },
    },
    series: first
      ? [
          { ...first, ...areasOf(intervals, inks), ...uprightsOf(plot.uprights, inks) },
          ...series.slice(1),
        ]
      : intervals.length > 0
        ? [{ type: "line", data: [], ...areasOf(intervals, inks) }]
        : [],
  };
}

/** Between ticks; 0 where there may be any. */
function leastStep({ whole }: Axis): number {
  return whole ? 1 : 0;
}

/** Thousands apart, as everywhere else. */
function tickWords(value: number): string {
  const [whole = "", rest] = String(Number(value.toPrecision(6))).split(".");
  const apart = whole.replace(/\B(?=(\d{3})+$)/g, "\u202f");
  return rest === undefined ? apart : `${apart}.${rest}`;
}

/** From end to end of what is drawn. */
function ends(curves: readonly Curve[], marks: readonly AxisMark[]) {
  const xs = [...marks.map((m) => m.at), ...curves.flatMap((c) => c.points.map(([x]) => x))];
  if (xs.length === 0) return {};
  return { min: Math.min(...xs), max: Math.max(...xs) };
}

function lineOf(curve: Curve, color: string): Record<string, unknown> {
  return {
    name: curve.name,
    type: "line",
    data: curve.points,
    symbol: curve.plain || curve.stepped ? "none" : "circle",
    symbolSize: 6,
    itemStyle: { color },
    lineStyle: { color, width: curve.stepped ? 1.4 : 2, type: curve.dashed ? "dashed" : "solid" },
    ...(curve.stepped && { step: "middle", areaStyle: { color, opacity: 0.18, origin: "start" } }),
    z: 3,
  };
}

/** A band between two lines: an invisible one below, and its height filled on top of it. */
function spreadOf(curve: Curve, color: string): Record<string, unknown>[] {
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
      areaStyle: { color, opacity: 0.18 },
    },
  ];
}

function areasOf(intervals: readonly Interval[], inks: Inks) {
  if (intervals.length === 0) return {};
  return {
    markArea: {
      silent: true,
      itemStyle: { color: inks.cool, opacity: 0.1 },
      label: { color: inks.quiet, fontFamily: FONT, fontSize: 10.5, position: "insideTop" },
      data: intervals.map(({ from, to, label, colour }) => [
        {
          name: label,
          xAxis: from,
          ...(colour && { itemStyle: { color: colour, opacity: 0.45 } }),
        },
        { xAxis: to },
      ]),
    },
  };
}

function uprightsOf(uprights: readonly number[] | undefined, inks: Inks) {
  if (!uprights?.length) return {};
  return {
    markLine: {
      silent: true,
      symbol: "none",
      label: { show: false },
      lineStyle: { color: inks.cool, type: "solid", width: 1.4 },
      data: uprights.map((xAxis) => ({ xAxis })),
    },
  };
}

interface TooltipItem {
  seriesName?: string;
  marker?: string;
  value: [number, number | null];
}

const DAY = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeZone: "UTC" });

function describe(items: unknown, xAxis: Axis, marks: readonly AxisMark[]): string {
  const shown = (items as TooltipItem[]).filter((item) => !item.seriesName?.startsWith("series"));
  const [first] = shown;
  if (!first) return "";
  const at = first.value[0];
  const label = marks.find((m) => m.at === at)?.label;
  const where = xAxis.words?.(at) ?? placeWords(at, xAxis);
  const lines = shown.map(({ marker = "", seriesName = "", value: [, value] }) => {
    const number = value === null ? "no data" : String(Number(value.toPrecision(4)));
    return `${marker}${escapeHtml(seriesName)} ${number}`;
  });
  const head = label ? `<b>${escapeHtml(label)}</b> ${escapeHtml(where)}` : escapeHtml(where);
  return [head, ...lines].join("<br>");
}

function placeWords(at: number, { time }: Axis): string {
  return time ? DAY.format(at) : String(Number(at.toPrecision(5)));
}

function escapeHtml(text: string): string {
  return text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
}
