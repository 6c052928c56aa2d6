import { soilWords } from "../../web/src/readout/space/useSpace";
import * as format from "../../web/src/shared/format";
import { interval, shortInterval } from "../../web/src/stations/check/interval";

const NARROW = "\u202f";

test.each([
  [0, "0"],
  [999, "999"],
  [1000, `1${NARROW}000`],
  [1234567.6, `1${NARROW}234${NARROW}568`],
  [-1234, `-1${NARROW}234`],
])("%d is counted as %s", (n, words) =>
  expect(format.formatCount(n)).toBe(words),
);

test.each([
  [0.5, 1, "0.5"],
  [12345.678, 2, `12${NARROW}345.68`],
  [1234, 0, `1${NARROW}234`],
])("%d with %d digits is %s", (value, digits, words) =>
  expect(format.formatFixed(value, digits)).toBe(words),
);

test.each([
  [null, "–"],
  [0.12345, "0.123"],
  [-0.1, "-0.1"],
  [12, "12"],
  [12.34, "12.3"],
  [12345, `12${NARROW}345`],
])("a value of %s is read as %s", (value, words) =>
  expect(format.formatValue(value)).toBe(words),
);

test("a column of values has one number of digits", () => {
  expect([0.1, 0.12345, 12345.6, null].map(format.formatDigits)).toEqual([
    "0.100",
    "0.123",
    `12${NARROW}346`,
    "–",
  ]);
});

test.each([
  [0.2, "1 s"],
  [59.4, "59 s"],
  [59.4, "59 s"],
  [60, "1 min 0 s"],
  [61, "1 min 1 s"],
  [119.6, "2 min 0 s"],
  [3600, "60 min 0 s"],
])("%d seconds are %s", (s, words) =>
  expect(format.formatSeconds(s)).toBe(words),
);

test.each([
  [0, "0 B"],
  [999, "999 B"],
  [1000, "1 kB"],
  [1_500_000, "1.5 MB"],
  [2.5e13, "25.0 TB"],
])("%d bytes are %s", (bytes, words) =>
  expect(format.formatSize(bytes)).toBe(words),
);

test("areas, shares and counts with their words", () => {
  expect(format.formatHectares(12.34)).toBe("12.3");
  expect(format.formatHectares(1234.5)).toBe(`1${NARROW}235`);
  expect(format.formatPercent(0.1234)).toBe("12.3 %");
  expect(format.formatPercent(null)).toBe("–");
  expect(format.plural(1, "site")).toBe("1 site");
  expect(format.plural(2000, "box", "boxes")).toBe(`2${NARROW}000 boxes`);
});

test("a day is the same day wherever the browser stands", () => {
  // This process is run west of Greenwich, where midnight there is the evening before.
  expect(new Date("2024-07-18").getTimezoneOffset()).toBeGreaterThan(0);
  expect(format.formatDate("2024-07-18")).toBe("18 July 2024");
  expect(format.formatShortDate("2024-07-18")).toBe("18 Jul 2024");
  expect(format.formatDate(null)).toBe("no date");
});

test("intervals are told in whole percent, or not at all", () => {
  const share = (low: number | null, high: number | null) => ({
    value: 0.5,
    low,
    high,
  });
  expect(interval(share(0.414, 0.586))).toBe("41 to 59 %");
  expect(interval(share(null, null))).toBe("–");
  expect(shortInterval(share(0.414, 0.586))).toBe("41 – 59");
  expect(shortInterval(share(null, 0.5))).toBe("");
});

test("the soil line says its equation, what it was fitted to, and how well", () => {
  const line = { low: 0.1, high: 0.3, n_steps: 34, n_pixels: 61200 };
  expect(
    soilWords({ ...line, slope: 1.2, intercept: -0.04, r_squared: 0.98765 }),
  ).toBe(
    "Soil line: nir = 1.200 × red − 0.0400, fitted to the foot of 61\u202f200 land pixels in 34 steps of red, r² 0.988",
  );
});
