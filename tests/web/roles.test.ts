// What is said of a delivery's bands; roles and wavelengths as the server tells them.
import {
  asOfSensor,
  roleWords,
  strangeRoles,
  withRole,
  withRoles,
  wordsOf,
} from "../../web/src/stations/scenes/bring/roles";

const role = (id: string, usual_um: number) => ({
  id,
  title: `${id} light`,
  low_um: usual_um - 0.1,
  high_um: usual_um + 0.1,
  usual_um,
});
const KNOWN = new Map(
  [role("blue", 0.49), role("red", 0.655), role("swir16", 1.65)].map((one) => [
    one.id,
    one,
  ]),
);
const band = (
  position: number,
  name = "",
  wavelength_um: number | null = null,
  used = true,
) => ({
  position,
  role: name,
  wavelength_um,
  gain: null,
  offset: 0,
  used,
});

test("roles typed in order go to the bands that are used", () => {
  const bands = [band(0), band(1, "pan", 0.6, false), band(2), band(3)];
  const named = withRoles(bands, "blue, red", KNOWN);
  expect(named.map((b) => b.role)).toEqual(["blue", "pan", "red", ""]);
  expect(named.map((b) => b.wavelength_um)).toEqual([0.49, 0.6, 0.655, null]);
  expect(wordsOf("  Blue;red\tNIR ")).toEqual(["blue", "red", "nir"]);
});

test("a usual wavelength goes with its role, a measured one stays", () => {
  expect(withRole(band(0, "blue", 0.49), "red", KNOWN).wavelength_um).toBe(
    0.655,
  );
  expect(
    withRole(band(0, "blue", 0.49), "peat", KNOWN).wavelength_um,
  ).toBeNull();
  expect(withRole(band(0, "blue", 0.482), "red", KNOWN).wavelength_um).toBe(
    0.482,
  );
});

test("a known sensor fills roles and wavelengths", () => {
  const sensor = {
    title: "Two bands",
    bands: [
      { role: "blue", wavelength_um: 0.485 },
      { role: "red", wavelength_um: 0.66 },
    ],
  };
  const filled = asOfSensor(
    [band(0, "", null, false), band(1, "x"), band(2, "y", 9)],
    sensor,
  );
  expect(filled.map((b) => [b.role, b.wavelength_um])).toEqual([
    ["", null],
    ["blue", 0.485],
    ["red", 0.66],
  ]);
});

test("roles that nobody knows are asked about, once, unless they are meant so", () => {
  const bands = [
    band(0, "blue"),
    band(1, "swir1"),
    band(2, "peat"),
    band(3, "moss", 1, false),
  ];
  expect(strangeRoles(bands, KNOWN, [])).toEqual(["swir1", "peat"]);
  expect(strangeRoles(bands, KNOWN, ["peat"])).toEqual(["swir1"]);
  expect(strangeRoles(bands, new Map(), [])).toEqual([]);
});

test("roles in words", () => {
  expect(roleWords(KNOWN.get("swir16"))).toBe("swir16 light, 1.65 µm");
  expect(roleWords(undefined)).toBe("");
});
