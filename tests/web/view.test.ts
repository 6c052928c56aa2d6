import { clampHeight, openView } from "../../web/src/shared/openView";
import { showScene, USUAL_STRETCH } from "../../web/src/shared/view";
import { mapWith, ROLES, sceneWith } from "./scenes";

const SUMMER = sceneWith(1, ROLES);
const SPRING = sceneWith(2, ROLES);
const SCENES = [SUMMER, SPRING];
const FIRST = openView({}, SCENES, []);

describe("a view as it was stored", () => {
  test("nothing stored opens the first scene beside its live map, then other dates", () => {
    expect(FIRST?.sceneId).toBe(1);
    expect(FIRST?.panes.map((pane) => pane.kind)).toEqual([
      "scene",
      "live",
      "scene",
      "scene",
    ]);
    expect(FIRST?.panes[2]).toMatchObject({
      sceneId: 2,
      roles: ["nir", "red", "green"],
    });
    expect(FIRST?.roles).toEqual(ROLES);
    expect(openView({}, [], [])).toBeNull();
  });

  test.each<[string, Record<string, unknown>]>([
    [
      "words and numbers in the wrong places",
      { panes: "nonsense", count: 7, pins: "here" },
    ],
    ["a line and a tab that are none", { line: [[0, "x"]], tab: "smell" }],
    ["one coordinate is no line", { line: [[0, 1]] }],
    [
      "layers that have gone",
      { panes: [{ kind: "map", layerId: 9 }, null], layers: null },
    ],
    [
      "a scene that has gone",
      { panes: [{ kind: "scene", sceneId: 9, roles: ["nir"] }] },
    ],
    ["a pane of a later version", { panes: [{ kind: "hologram" }] }],
    [
      "a place without a centre",
      { readoutHeight: "tall", place: { centre: [null, 2] } },
    ],
    ["an infinite place", { place: { centre: [0, 0], resolution: Infinity } }],
    ["bands that the scene has not", { roles: ["ultraviolet"] }],
    [
      "too few bands in a pane",
      { panes: [{ kind: "scene", sceneId: 1, roles: ["nir"] }] },
    ],
  ])("%s opens as a first visit does", (_, stored) => {
    expect(openView(stored, SCENES, [])).toEqual(FIRST);
  });

  test("stretches from before they had kinds keep their ends", () => {
    const pane = {
      kind: "scene",
      sceneId: 1,
      roles: ["red", "green", "blue"],
      low: 5,
      high: 95,
    };
    const view = openView({ panes: [pane] }, SCENES, []);
    expect(view?.panes[0]).toMatchObject({
      palette: null,
      stretch: { ...USUAL_STRETCH, low: 5, high: 95 },
    });
  });

  test("what is there stays as it was left", () => {
    const stored = {
      sceneId: 2,
      roles: ["red", "nir"],
      count: 4,
      panes: [
        { kind: "map", layerId: 7 },
        { kind: "picture", pictureId: "p" },
      ],
      place: { centre: [1, 2], resolution: 3 },
      pins: [
        [1, 2],
        [3, "x"],
      ],
      tab: "time",
      readoutFolded: true,
      layers: { hidden: ["scene:1"] },
    };
    expect(openView(stored, SCENES, [mapWith(7)])).toMatchObject({
      sceneId: 2,
      roles: ["red", "nir"],
      count: 4,
      place: { centre: [1, 2], resolution: 3 },
      pins: [[1, 2]],
      tab: "time",
      readoutFolded: true,
      layers: { order: [], hidden: ["scene:1"], groups: {} },
    });
  });

  test.each([
    [5, 120],
    [200, 200],
    [9999, 420],
    [NaN, 186],
    ["300", 186],
  ])("a readout of %s px is %s px high", (height, wanted) => {
    expect(clampHeight(height)).toBe(wanted);
  });
});

describe("another scene in a pane", () => {
  test("keeps bands and stretch where it has them, but no typed limits", () => {
    const before = {
      ...showScene(SUMMER),
      roles: ["swir16", "nir", "red"] as never,
    };
    expect(showScene(SPRING, before).roles).toEqual(["swir16", "nir", "red"]);
    const wide = { ...before, stretch: { ...USUAL_STRETCH, low: 0 } };
    expect(showScene(SPRING, wide).stretch.low).toBe(0);
    const typed = {
      ...before,
      stretch: { ...USUAL_STRETCH, kind: "typed" as const },
    };
    expect(showScene(SPRING, typed).stretch).toEqual(USUAL_STRETCH);
  });

  test("one of fewer bands is shown in its own colours", () => {
    const index = sceneWith(3, ["ndvi"], {
      palette: "green",
      origin: "derived",
    });
    expect(showScene(index, showScene(SUMMER))).toMatchObject({
      roles: ["ndvi", "ndvi", "ndvi"],
      palette: { id: "green", reverse: false, steps: null },
    });
  });

  test("three layers put together stay in the order they were put in", () => {
    const three = sceneWith(4, ["red", "nir", "green"], { origin: "derived" });
    expect(showScene(three).roles).toEqual(["red", "nir", "green"]);
  });
});
