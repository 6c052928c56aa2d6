import { expect, test } from "vitest";

import { isClassCode, nextCode } from "../../web/src/shared/classCode";

test("a class may have any code up to two bytes, but not that of unclassified pixels", () => {
  const good = [1, 254, 256, 311, 65_535].filter(isClassCode);
  const bad = [0, -1, 255, 65_536, 2.5, NaN].filter(isClassCode);
  expect(good).toHaveLength(5);
  expect(bad).toEqual([]);
});

test("the next code steps over that of unclassified pixels", () => {
  expect([[], [1, 2], [254, 7], [311]].map(nextCode)).toEqual([1, 3, 256, 312]);
});
