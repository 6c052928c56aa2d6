import { parseWholeNumbers } from "../../web/src/forms/widgets/WholeNumbersWidget";
import {
  mendMethod,
  methodQuery,
  USUAL_METHOD,
} from "../../web/src/shared/method";
import { csvOf, pointsWords } from "../../web/src/stations/classify/compared";
import {
  limitsWords,
  lossWords,
  secondsWords,
} from "../../web/src/stations/classify/limits";
import type { LayerRow, MethodRow } from "../../web/src/api/types";
import {
  bestFirst,
  notMissed,
} from "../../web/src/stations/classify/trialRows";

test("the usual method is not told; any other is, with settings and seed", () => {
  expect(methodQuery(USUAL_METHOD)).toBe("");
  expect(methodQuery({ ...USUAL_METHOD, seed: 3 })).toContain('"seed":3');
  expect(
    JSON.parse(methodQuery({ ...USUAL_METHOD, id: "mahalanobis" })),
  ).toEqual({
    id: "mahalanobis",
    settings: {},
    seed: 0,
  });
});

test.each([null, 5, {}, { id: 7 }, []])(
  "%j as a stored method is the usual one",
  (stored) => {
    expect(mendMethod(stored)).toEqual(USUAL_METHOD);
  },
);

test("a stored method keeps what is good of it", () => {
  const stored = { id: "random-forest", settings: { n_trees: 7 }, seed: -1 };
  expect(mendMethod(stored)).toEqual({ ...stored, seed: 0 });
});

function methodRow(method: string, mean: number | null): MethodRow {
  if (mean === null) return { method, tried: null, problem: "No." };
  const right = { mean, low: null, high: null };
  const cost = { train_seconds: 1, scene_seconds: 1, n_bytes: 1 };
  return {
    method,
    tried: { right, weakest_code: null, weakest: null, ...cost },
    problem: null,
  };
}

test("the best method stands first, what could not be tried last", () => {
  const rows = [methodRow("a", 0.5), methodRow("b", null), methodRow("c", 0.9)];
  expect(bestFirst(rows).map(({ method }) => method)).toEqual(["c", "a", "b"]);
});

function layerRow(role: string, mean: number, low: number | null): LayerRow {
  const lost = { mean, low, high: low === null ? null : 2 * mean - low };
  return { role, shuffled: lost, left_out: lost };
}

test("a layer is not missed where its loss may be none", () => {
  const rows = [
    layerRow("red", 0.05, 0.01),
    layerRow("nir", 0.02, -0.01),
    layerRow("x", 0, null),
  ];
  expect(notMissed(rows).map(({ role }) => role)).toEqual(["x", "nir"]);
  expect(notMissed([layerRow("red", 0.05, 0.01)])).toEqual([]);
});

test("limits, losses and seconds in words", () => {
  expect(limitsWords({ mean: 0.9, low: 0.845, high: 1 })).toBe("85 % – 100 %");
  expect(limitsWords({ mean: 0.9, low: null, high: null })).toBe("–");
  expect(lossWords({ mean: 0.019, low: -0.015, high: 0.053 })).toBe(
    "1.9 (−1.5 to 5.3)",
  );
  expect(lossWords({ mean: null, low: null, high: null })).toBe("–");
  expect([0.001, 0.0723, 1.34, 75.4].map(secondsWords)).toEqual([
    "< 0.01 s",
    "0.072 s",
    "1.3 s",
    "75 s",
  ]);
});

test("who is right on the same points, and whether that may be chance", () => {
  const points = {
    only_first: 3,
    only_second: 30,
    both: 60,
    neither: 7,
    p: 0.0001,
  };
  expect(pointsWords(points)).toMatch(
    /On 100 reference points.*less than 0.001.*the second is/,
  );
  expect(pointsWords({ ...points, only_second: 4, p: 1 })).toContain(
    "may be chance (p 1.000",
  );
  expect(pointsWords({ ...points, p: null })).toContain("never differ");
  expect(pointsWords(null)).toContain("no reference points");
});

test("two maps as a table of numbers", () => {
  const rows = [{ code: 1, name: "Mudflat", colour: "#000000" }];
  const compared = {
    rows,
    columns: rows,
    pixels: [[4]],
    hectares: [[0.04]],
    same: 1,
    points: null,
    matched: null,
    rand: null,
  };
  expect(csvOf(compared)).toEqual([
    ["first map", "second map", "pixels", "hectares"],
    ["Mudflat", "Mudflat", 4, 0.04],
  ]);
});

test("whole numbers with commas between", () => {
  expect(parseWholeNumbers("32, 16")).toEqual([32, 16]);
  expect(["", "1,", "0", "2.5", "a", "-4"].map(parseWholeNumbers)).toEqual(
    Array(6).fill(null),
  );
});
