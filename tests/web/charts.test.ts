import { niceTicks } from "../../web/src/charts/axis";
import { curveOption } from "../../web/src/charts/curveOption";
import { type Curve, curvesToCsv } from "../../web/src/charts/curves";
import { ALL, rangesBetween } from "../../web/src/charts/ranges";
import { densityCsv } from "../../web/src/readout/space/densityCsv";
import { ringOf } from "../../web/src/readout/space/ellipse";

const INKS = {
  ink: "#000",
  quiet: "#555",
  line: "#ccc",
  card: "#fff",
  cool: "#06c",
} as Parameters<typeof curveOption>[1];
const RED: Curve = { name: "red", colour: "#f00", points: [[0.4, 1], [0.8, null]] }; // prettier-ignore
const SPREAD: Curve = {
  name: "class",
  colour: null,
  points: [[0.5, 2]],
  spread: [[0.5, 1, 4]],
};

function optionOf(more: Partial<Parameters<typeof curveOption>[0]> = {}) {
  const axes = { xAxis: { title: "µm" }, yAxis: { title: "reflectance" } };
  const plot = { curves: [RED], ...axes, ranges: ALL, title: "", ...more };
  return curveOption(plot, INKS) as Record<string, Record<string, unknown>> & {
    series: Record<string, unknown>[];
  };
}

test.each<[number, number, number, number[]]>([
  [0, 1, 5, [0, 0.2, 0.4, 0.6, 0.8, 1]],
  [-3, 3, 3, [-2, 0, 2]],
  [0.13, 0.17, 4, [0.13, 0.14, 0.15, 0.16, 0.17]],
  [1e6, 3e6, 2, [1e6, 2e6, 3e6]],
  [2, 2, 5, [2]],
])("marks from %d to %d, about %d", (low, high, about, wanted) => {
  expect(niceTicks(low, high, about)).toEqual(wanted);
});

test("a chart reaches from end to end of what is drawn, marks included", () => {
  expect(optionOf()["xAxis"]).toMatchObject({ min: 0.4, max: 0.8, name: "µm" });
  expect(
    optionOf({ marks: [{ at: 2.2, label: "swir22" }] })["xAxis"],
  ).toMatchObject({ max: 2.2 });
  const set = optionOf({ ranges: { x: [1, 2], y: [3, 4] } });
  expect(set["xAxis"]).toMatchObject({ min: 1, max: 2 });
  expect(set["yAxis"]).toMatchObject({ min: 3, max: 4 });
});

test("an axis of values starts at nought or below it, one of logarithms does not", () => {
  const least = optionOf()["yAxis"]?.["min"] as (range: {
    min: number;
  }) => number;
  expect([least({ min: 0.2 }), least({ min: -0.3 })]).toEqual([0, -0.3]);
  expect(
    optionOf({ yAxis: { title: "pixels", log: true } })["yAxis"],
  ).toMatchObject({
    type: "log",
  });
});

test("a spread lies behind its curve: a line below and its height on top", () => {
  const { series } = optionOf({ curves: [SPREAD] });
  expect(series.map((one) => one["data"])).toEqual([
    [[0.5, 1]],
    [[0.5, 3]],
    [[0.5, 2]],
  ]);
  expect(series[2]).toMatchObject({
    name: "class",
    lineStyle: { color: "#000" },
  });
});

test("intervals are seen without any curve", () => {
  const { series } = optionOf({
    curves: [],
    intervals: [{ from: 0.4, to: 0.5, label: "blue" }],
  });
  expect(series).toHaveLength(1);
  expect(optionOf({ curves: [] }).series).toEqual([]);
});

test("names from outside are no markup in the tooltip", () => {
  const tooltip = optionOf({ curves: [{ ...RED, name: "<b>x</b>" }] })[
    "tooltip"
  ];
  const words = (tooltip?.["formatter"] as (items: unknown) => string)([
    { seriesName: "<img src=x>", marker: "", value: [0.4, 0.123456] },
  ]);
  expect(words).toBe("0.4<br>&#60;img src=x&#62; 0.1235");
});

test("curves as rows: one line per place, gaps left open, names quoted", () => {
  const other: Curve = { name: 'a "b"', colour: null, points: [[0.4, 7], [0.6, 8]] }; // prettier-ignore
  expect(curvesToCsv([RED, other], ["um"])).toBe(
    'um,"red","a ""b"""\n0.4,1,7\n0.6,,8\n0.8,,\n',
  );
});

test("a box between two corners, whichever comes first", () => {
  expect(rangesBetween([3, 4], [1, 9])).toEqual({ x: [1, 3], y: [4, 9] });
});

test("a density as rows tells the middle of its cells", () => {
  const axis = { low: 0, high: 4 };
  const plane = { x: axis, y: axis, counts: [[0, 2], [5, 0]] } as never; // prettier-ignore
  expect(densityCsv(plane)).toBe("x,y,pixels\n3,1,2\n1,3,5\n");
});

test("an ellipse turned by 90 degrees lies along the other axis", () => {
  const ring = ringOf({
    x: 1,
    y: 2,
    long: 3,
    short: 1,
    angle_deg: 90,
  } as never);
  const span = (i: 0 | 1) => {
    const values = ring.map((at) => at[i]);
    return [Math.min(...values), Math.max(...values)];
  };
  expect(span(0)[1]).toBeCloseTo(2, 2);
  expect(span(1)).toEqual([expect.closeTo(-1, 2), expect.closeTo(5, 2)]);
});

test("places along an axis are said in its own words, with the coordinates where it has them", () => {
  const xAxis = { title: "m", words: (at: number) => `${at} m <here>` };
  const tooltip = optionOf({ xAxis })["tooltip"];
  const words = (tooltip?.["formatter"] as (items: unknown) => string)([
    { seriesName: "red", marker: "", value: [10, 0.5] },
  ]);
  expect(words).toBe("10 m &#60;here&#62;<br>red 0.5");
});

test("rows may name a place in several columns", () => {
  const at = (x: number) => [x, 10 * x];
  expect(curvesToCsv([RED], ["d", "x"], at)).toBe(
    'd,x,"red"\n0.4,4,1\n0.8,8,\n',
  );
});
