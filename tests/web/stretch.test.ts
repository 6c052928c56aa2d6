import {
  showScene,
  type Stretch,
  USUAL_STRETCH,
} from "../../web/src/shared/view";
import {
  stretchOrder,
  stretchQuery,
  stretchWords,
} from "../../web/src/table/stretchOrder";
import { tilesOf } from "../../web/src/table/tileUrl";
import { openView } from "../../web/src/shared/openView";
import { ROLES, sceneWith } from "./scenes";

const SHOW = showScene(sceneWith(1, ROLES));
const withStretch = (part: Partial<Stretch>) => ({
  ...SHOW,
  stretch: { ...USUAL_STRETCH, ...part },
});
const BANDS = { roles: "nir,red,green" };

test.each<[string, Partial<Stretch>, Record<string, unknown>]>([
  ["percentiles", { low: 1, high: 99 }, { low: 1, high: 99 }],
  ["extremes", { kind: "extremes" }, { stretch: "extremes" }],
  [
    "deviations",
    { kind: "deviations", deviations: 3 },
    { stretch: "deviations", deviations: 3 },
  ],
  ["equalised", { kind: "equalise" }, { stretch: "equalise" }],
  [
    "typed limits, which are of no place",
    { kind: "typed", limits: [[0, 0.1], [0.2, 0.3], [1, 2]], over: { site: 4 } }, // prettier-ignore
    { stretch: "typed", limits: "0:0.1,0.2:0.3,1:2" },
  ],
  ["none", { kind: "none", over: { site: 4 } }, { stretch: "none" }],
  [
    "shared by the channels",
    { shared: true },
    { low: 2, high: 98, shared: true },
  ],
  ["over a site", { over: { site: 4 } }, { low: 2, high: 98, site: 4 }],
  [
    "over a view",
    { over: { extent: [1, 2, 3, 4] } },
    { low: 2, high: 98, extent: "1,2,3,4" },
  ],
])("%s are told to the server", (_, part, wanted) => {
  expect(stretchOrder(withStretch(part))).toEqual({ ...BANDS, ...wanted });
});

test("a palette needs one band, and its own words only where they say something", () => {
  const palette = { id: "heat", reverse: false, steps: null };
  expect(stretchQuery({ ...SHOW, palette })).toBe(
    "roles=nir&low=2&high=98&palette=heat",
  );
  expect(
    stretchQuery({ ...SHOW, palette: { id: "heat", reverse: true, steps: 5 } }),
  ).toBe("roles=nir&low=2&high=98&palette=heat&reverse=true&steps=5");
});

test("a scene can be stretched as another one is", () => {
  expect(stretchOrder({ ...SHOW, stretchOf: 8 })).toMatchObject({
    stretch_of: 8,
  });
});

test.each<[Partial<Stretch>, string]>([
  [{}, "2 to 98 %"],
  [{ kind: "extremes" }, "from least to most"],
  [{ kind: "deviations" }, "mean ± 2 s.d."],
  [{ kind: "equalise" }, "equalised"],
  [{ kind: "typed" }, "between set limits"],
  [{ kind: "none" }, "not at all"],
])("%j is said as “%s”", (part, words) => {
  expect(stretchWords({ ...USUAL_STRETCH, ...part })).toBe(words);
});

test("tiles come from where the thing lies; a live map before it is trained has none", () => {
  const view = openView({ roles: ["red", "nir"] }, [sceneWith(1, ROLES)], []);
  if (!view) throw new Error("no view");
  const url = (
    show: Parameters<typeof tilesOf>[0],
    version: string | null = null,
  ) => tilesOf(show, 5, view, { live: version })?.url;
  expect(url(SHOW)).toBe(
    "/api/scenes/1/tiles/{z}/{y}/{x}.png?roles=nir,red,green&low=2&high=98",
  );
  expect(url({ kind: "map", layerId: 3 })).toBe(
    "/api/maps/3/tiles/{z}/{y}/{x}.png",
  );
  expect(url({ kind: "live" })).toBeUndefined();
  expect(url({ kind: "clusters" })).toBeUndefined();
  expect(url({ kind: "named", layerId: 3 })).toContain(
    "/api/cluster-maps/3/tiles/",
  );
  expect(url({ kind: "live" }, "v1")).toBe(
    "/api/studies/5/live/v1/{z}/{y}/{x}.png?scene_id=1&roles=red,nir",
  );
  const breaks = {
    kind: "breaks",
    sceneId: 1,
    role: "ndvi",
    table: '{"a": "ü&"}',
  } as const;
  expect(url(breaks)).toContain(
    "role=ndvi&table=%7B%22a%22%3A%20%22%C3%BC%26%22%7D",
  );
});
