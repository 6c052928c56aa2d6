import { expect, test } from "vitest";

import { atUpperLevel } from "../../web/src/stations/classify/upperLevel";
import { atUpperLevel as foldedMatrix } from "../../web/src/readout/check/upperMatrix";
import type { LandClass, Scene, Tidied } from "../../web/src/api/types";
import {
  datesOfYear,
  stackedBands,
} from "../../web/src/stations/classify/allDates";
import {
  isBroken,
  losses,
  moves,
  rightWords,
} from "../../web/src/stations/tidy/changed";

const row = (
  name: string,
  before: number,
  after: number,
  pieces: [number, number],
) => ({
  code: name.length,
  name,
  colour: "#123456",
  before,
  after,
  pieces_before: pieces[0],
  pieces_after: pieces[1],
});

test("classes that lose much are told, the worst first", () => {
  const rows = [
    row("Mud", 100, 91, [1, 1]),
    row("Reed", 100, 70, [1, 1]),
    row("Creek", 10, 2, [1, 1]),
  ];
  expect(losses(rows).map(({ name }) => name)).toEqual(["Creek", "Reed"]);
});

test("a class that shrinks into more pieces was cut", () => {
  expect(isBroken(row("Creek", 100, 80, [1, 6]))).toBe(true);
  expect(isBroken(row("Creek", 100, 80, [9, 6]))).toBe(false);
  expect(isBroken(row("Creek", 100, 120, [1, 6]))).toBe(false);
});

test("what became of what is told in names, no data among them", () => {
  const found = {
    classes: [row("Mud", 9, 5, [1, 1])],
    from_to: [
      { before: 3, after: 0, n: 4 },
      { before: 0, after: 99, n: 1 },
    ],
  } as unknown as Tidied;
  expect(moves(found)).toEqual([
    { from: "Mud", to: "No data", n: 4 },
    { from: "No data", to: "99", n: 1 },
  ]);
});

test("what is right before and after is told in shares", () => {
  const right = { n: 270, before: 216, after: 243 };
  expect(rightWords({ right } as unknown as Tidied)).toBe(
    "Right at 270 reference points: 80.0 % before, 90.0 % after.",
  );
});

const scene = (
  id: number,
  acquired: string | null,
  more: Partial<Scene> = {},
) =>
  ({
    id,
    acquired,
    series: null,
    origin: "corrected",
    quantity: "reflectance",
    grid: { width: 5 },
    bands: [{ role: "red" }, { role: "nir" }],
    ...more,
  }) as unknown as Scene;

test("all dates of a year: one scene each, alike, the one in hand for its own date", () => {
  const june = scene(3, "2031-06-12");
  const all = [
    june,
    scene(1, "2031-04-02"),
    scene(5, "2031-04-02"),
    scene(9, "2031-06-12"),
    scene(2, "2029-06-12"),
    scene(4, "2031-09-01", { quantity: "numbers" }),
    scene(6, "2031-08-01", { origin: "derived" }),
    scene(7, null),
    scene(8, "2031-07-01", { grid: { width: 6 } as unknown as Scene["grid"] }),
    scene(10, "2031-10-01"),
  ];
  expect(datesOfYear(june, all).map(({ id }) => id)).toEqual([5, 3, 10]);
  expect(datesOfYear(scene(7, null), all)).toEqual([]);
});

test("bands of all dates are called by role, month and day", () => {
  const found = stackedBands(
    [scene(1, "2031-04-02"), scene(2, "2031-06-12")],
    ["nir", "swir16"],
  );
  expect(found).toEqual([
    { scene_id: 1, role: "nir", name: "nir_0402" },
    { scene_id: 2, role: "nir", name: "nir_0612" },
  ]);
});

test("areas at the upper level are sums; a class without one above stays", () => {
  const area = (code: number, pixels: number | null) => ({
    code,
    name: `C${code}`,
    colour: "#000000",
    pixels,
    percent: pixels,
    hectares: pixels,
  });
  const one = (id: number, code: number, parent_id: number | null) => ({
    id,
    code,
    parent_id,
    name: `C${code}`,
    colour: "#000000",
  });
  const classes = [
    one(1, 10, null),
    one(2, 11, 1),
    one(3, 12, 1),
    one(4, 13, null),
  ];
  const found = atUpperLevel(
    [area(11, 3), area(12, 4), area(13, 5), area(255, 1)],
    classes as unknown as LandClass[],
  );
  expect(found.map(({ code, pixels }) => [code, pixels])).toEqual([
    [10, 7],
    [13, 5],
    [255, 1],
  ]);
  const unknown = atUpperLevel(
    [area(11, null), area(12, 4)],
    classes as unknown as LandClass[],
  );
  expect(unknown[0]?.pixels).toBeNull();
});

test("a matrix at the upper level adds up what belongs together", () => {
  const classes = [
    { id: 1, code: 1, parent_id: 9 },
    { id: 2, code: 2, parent_id: null },
    { id: 3, code: 3, parent_id: 9 },
    { id: 9, code: 20, parent_id: null },
  ] as unknown as LandClass[];
  const counts = [
    [5, 1, 2, 7],
    [3, 10, 0, 0],
    [4, 1, 6, 1],
  ];
  expect(foldedMatrix({ codes: [1, 2, 3], counts }, classes)).toEqual({
    codes: [20, 2],
    counts: [
      [17, 2, 8],
      [3, 10, 0],
    ],
  });
});
