import {
  type Draft,
  quantitiesOf,
} from "../../web/src/stations/scenes/bring/draft";
import { parsePair } from "../../web/src/readout/parsePair";
import { tellBusy, useBusyStore } from "../../web/src/shared/busyStore";
import { showScene } from "../../web/src/shared/view";
import {
  addRow,
  changeRow,
  limitsOf,
  moveLimit,
} from "../../web/src/stations/derive/breaks/limits";
import { firstLook } from "../../web/src/stations/derive/firstLook";
import {
  isComplete,
  ordersOf,
  quick,
} from "../../web/src/stations/derive/orders";
import { outlineCentre } from "../../web/src/shared/outlineCentre";
import { toProblem } from "../../web/src/api/problem";
import { ROLES, sceneWith } from "./scenes";

const row = (key: number, low: number | null, high: number | null) => ({
  key,
  code: key + 1,
  name: `${low ?? ""} to ${high ?? ""}`,
  colour: "#000000",
  low,
  high,
});

describe("class breaks in hand", () => {
  const rows = [row(0, null, 0.1), row(1, 0.1, 0.4), row(2, 0.4, null)];

  test("a shared limit moves in both rows, their names with it", () => {
    const moved = moveLimit(rows, 0.1, 0.2);
    expect(limitsOf(moved)).toEqual([0.2, 0.4]);
    expect(moved.map((one) => one.name)).toEqual([
      " to 0.2",
      "0.2 to 0.4",
      "0.4 to ",
    ]);
  });

  test("it never passes its neighbours", () => {
    expect(moveLimit(rows, 0.1, 0.4)).toEqual(rows);
    expect(limitsOf(moveLimit(rows, 0.1, -5))).toEqual([-5, 0.4]);
  });

  test("a name that was given stays", () => {
    const [named] = [changeRow(rows[1] ?? row(1, 0, 1), { name: "Shrub" })];
    expect(changeRow(named, { low: 0 })).toMatchObject({
      name: "Shrub",
      low: 0,
    });
  });

  test("a new row goes on where the others end", () => {
    expect(addRow([])).toMatchObject([{ code: 1, low: null, high: null }]);
    expect(addRow(rows).slice(-2)).toMatchObject([
      { low: 0.4, high: 1.4 },
      { code: 4, low: 1.4, high: null },
    ]);
  });
});

describe("what is asked for", () => {
  test("an order per ticked index, with its own constants", () => {
    const values = { constants: { savi: { constant_l: 0.5 } } };
    expect(ordersOf("index", { ...values, index: ["ndvi", "savi"] })).toEqual([
      { operation: "index", settings: { index: "ndvi", constants: {} } },
      {
        operation: "index",
        settings: { index: "savi", constants: { constant_l: 0.5 } },
      },
    ]);
  });

  test("a composite is a stack; only the form remembers the rest", () => {
    expect(ordersOf("composite", { members: ["1:a"], open: true })).toEqual([
      { operation: "stack", settings: { members: ["1:a"] } },
    ]);
    const tasseled = { coefficients: "oli", own_name: "x", table: [[1]] };
    expect(ordersOf("tasseled-cap", tasseled)[0]?.settings).toEqual({
      coefficients: "oli",
    });
  });

  test.each<[string, Record<string, unknown>, boolean]>([
    ["formula", { formula: "  " }, false],
    ["formula", { formula: "nir" }, true],
    ["stack", { members: [] }, false],
    ["composite", { members: ["a", "b"] }, false],
    ["composite", { members: ["a", "b", "c"] }, true],
    ["tasseled-cap", { coefficients: "own" }, false],
    ["ratio", {}, true],
  ])("%s with %j: complete is %s", (kind, settings, complete) => {
    expect(isComplete(kind, settings)).toBe(complete);
  });

  test("a preview never waits for every pixel", () => {
    expect(quick({ pixels: "every", n: 2 })).toEqual({ pixels: "view", n: 2 });
    expect(quick(undefined)).toEqual({});
  });
});

describe("how a preview is first shown", () => {
  const scene = sceneWith(1, ROLES);
  const panes = [showScene(scene)];

  test("a computed layer in its own way, an improved scene as the one behind it", () => {
    expect(
      firstLook(sceneWith(2, ["ndvi"], { quantity: "values" }), panes),
    ).toBeUndefined();
    const improved = sceneWith(2, ROLES, { made_of: [1] });
    expect(firstLook(improved, panes)).toEqual(panes[0]);
  });

  test("but with bands in it that were changed", () => {
    const steps = [{ settings: { roles: ["blue"] } }] as never;
    const improved = sceneWith(2, ROLES, { made_of: [1], steps });
    expect(firstLook(improved, panes)?.roles).toEqual(["red", "green", "blue"]);
  });
});

test.each<[string, [number, number] | null, boolean?]>([
  ["401 200, 4 998 300", [401200, 4998300], false],
  ["45.13 N, 27.2 W", [-27.2, 45.13], true],
  ["27.2 W; 45.13 N", [-27.2, 45.13], true],
  ["401200 E, 4998300 N", [401200, 4998300], false],
  ["12 S, 5 E", [5, -12], true],
  ["somewhere", null],
  ["1, 2, 3", null],
  ["1 N, 2 N", null],
  ["1e3, 2", null],
])("coordinates “%s”", (text, at, inDegrees) => {
  expect(parsePair(text)).toEqual(at && { at, inDegrees });
});

test("the middle of an outline is that of its bounds", () => {
  const ring = [[0, 0], [10, 0], [10, 4], [0, 4], [0, 0]]; // prettier-ignore
  expect(
    outlineCentre({ type: "Polygon", coordinates: [ring] } as never),
  ).toEqual([5, 2]);
  expect(
    outlineCentre({ type: "Polygon", coordinates: [] } as never),
  ).toBeNull();
});

test("the page is busy until the last thing on its way has come", () => {
  tellBusy("tiles", true);
  tellBusy("tiles", true);
  tellBusy("view", true);
  expect(useBusyStore.getState().busy.size).toBe(2);
  tellBusy("tiles", false);
  tellBusy("tiles", false);
  expect([...useBusyStore.getState().busy]).toEqual(["view"]);
  tellBusy("view", false);
});

test("an answer that is no problem document still ends as a sentence", async () => {
  const problem = await toProblem(new Response("<html>", { status: 502 }));
  expect([problem.status, problem.code]).toEqual([502, "unknown"]);
  expect(problem.message).toContain("Nothing is lost");
  const told = {
    type: "urn:kitesort:conflict",
    detail: "Somebody was quicker.",
  };
  const conflict = await toProblem(
    new Response(JSON.stringify(told), { status: 409 }),
  );
  expect([conflict.code, conflict.message]).toEqual([
    "conflict",
    "Somebody was quicker.",
  ]);
});

describe("what a proposal comes in as", () => {
  const told = [
    {
      position: 0,
      role: "red",
      quantity: "reflectance",
      gain: 2e-5,
      used: true,
    },
    {
      position: 1,
      role: "lwir11",
      quantity: "temperature",
      gain: null,
      used: true,
    },
    { position: 2, role: "x", quantity: "numbers", gain: null, used: true },
    { position: 3, role: "ndvi", quantity: "values", gain: 1e-4, used: true },
  ];
  const comesInAs = (...bands: readonly Record<string, unknown>[]) =>
    quantitiesOf({
      proposal: { bands: told },
      order: { bands: bands.map((band) => ({ used: true, ...band })) },
    } as unknown as Draft);

  test.each([
    ["red by its factors", [{ position: 0, gain: 2e-5 }], ["reflectance"]],
    ["red without them", [{ position: 0, gain: null }], ["raw numbers"]],
    [
      "a thermal band beside it",
      [
        { position: 0, gain: 2e-5 },
        { position: 1, gain: null },
      ],
      ["reflectance", "temperature"],
    ],
    ["nothing known", [{ position: 2, gain: null }], ["raw numbers"]],
    ["a gain that was typed", [{ position: 2, gain: 1e-4 }], ["reflectance"]],
    ["an index", [{ position: 3, gain: 1e-4 }], ["values"]],
    ["a band left out", [{ position: 0, gain: 2e-5, used: false }], []],
  ])("%s", (_, bands, expected) =>
    expect(comesInAs(...bands)).toEqual(expected),
  );
});
