import { expect, test } from "vitest";

import { targetOf } from "../../web/src/shared/useRowWindow";

test.each([
  ["ArrowDown", 4, 5],
  ["ArrowUp", 0, 0],
  ["PageDown", 4, 14],
  ["PageUp", 4, 0],
  ["Home", 400, 0],
  ["End", 4, 49_999],
  ["ArrowDown", 49_999, 49_999],
])("%s leads from row %i to row %i", (key, at, target) => {
  expect(targetOf(key, at, 50_000, 10)).toBe(target);
});

test("other keys are left to others", () => {
  expect(targetOf("a", 4, 50_000, 10)).toBeNull();
});
