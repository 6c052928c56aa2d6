import {
  coordinateOf,
  measure,
  nearestPlace,
  withMark,
} from "../../web/src/readout/line/measure";

const DATA = {
  distance_m: [0, 10, 20, 30],
  x: [5, 15, 25, 35],
  y: [1, 1, 1, 1],
  pixel_m: 10,
  values: [],
} as never;

test.each<[number, number]>([
  [-3, 0],
  [0, 0],
  [4.9, 0],
  [5.1, 1],
  [29, 3],
  [500, 3],
])("%d m along the line is at place %d", (distance, place) => {
  expect(nearestPlace(DATA, distance)).toBe(place);
});

test("a place has its coordinates, one that is not there has none", () => {
  expect(coordinateOf(DATA, 2)).toEqual([25, 1]);
  expect(coordinateOf(DATA, 4)).toBeNull();
});

test("two marks measure the change and the mean of what is valid between them", () => {
  expect(measure([1, 2, null, 6], [0, 3])).toEqual({
    first: 1,
    second: 6,
    difference: 5,
    mean: 3,
  });
  // The same stretch, walked the other way.
  expect(measure([1, 2, null, 6], [3, 0])).toMatchObject({
    difference: -5,
    mean: 3,
  });
  expect(measure([1, 2, null, 6], [1, 2])).toMatchObject({
    difference: null,
    mean: 2,
  });
  expect(measure([null], [0, 0]).mean).toBeNull();
});

test("a click sets the first mark, then the second, then begins anew", () => {
  expect(withMark([], 3)).toEqual([3]);
  expect(withMark([3], 7)).toEqual([3, 7]);
  expect(withMark([3, 7], 9)).toEqual([9]);
});
