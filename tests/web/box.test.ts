// A rectangle by dragging or by two clicks; made-up places, a pixel is a unit of the map here.
import {
  NO_SKETCH,
  press,
  preview,
  release,
} from "../../web/src/map/boxSketch";

const at = (x: number, y: number) => ({
  at: [x, y] as [number, number],
  pixel: [x, y] as const,
});
const BOX = [
  [10, 20],
  [50, 20],
  [50, 60],
  [10, 60],
];

test("a box that is dragged is done when the pointer comes up", () => {
  const pressed = press(NO_SKETCH, at(10, 20));
  expect(preview(pressed, at(30, 40))).toHaveLength(4);
  expect(release(pressed, at(50, 60))).toEqual({
    sketch: NO_SKETCH,
    ring: BOX,
  });
});

test("a click leaves a corner that waits, a second one elsewhere ends the box", () => {
  const first = release(press(NO_SKETCH, at(10, 20)), at(11, 21));
  expect(first.ring).toBeNull();
  expect(first.sketch.first?.at).toEqual([11, 21]);
  expect(preview(first.sketch, at(50, 60))?.[2]).toEqual([50, 60]);
  const second = release(press(first.sketch, at(50, 60)), at(50, 60));
  expect(second.ring).toEqual([
    [11, 21],
    [50, 21],
    [50, 60],
    [11, 60],
  ]);
  expect(second.sketch).toEqual(NO_SKETCH);
});

test("a second click on the same spot goes on waiting", () => {
  const first = release(press(NO_SKETCH, at(10, 20)), at(10, 20));
  const again = release(press(first.sketch, at(12, 21)), at(12, 21));
  expect(again.ring).toBeNull();
  expect(again.sketch.first?.at).toEqual([10, 20]);
});

test("a drag after a first corner is a box of its own", () => {
  const first = release(press(NO_SKETCH, at(500, 500)), at(500, 500));
  const dragged = release(press(first.sketch, at(10, 20)), at(50, 60));
  expect(dragged.ring).toEqual(BOX);
});

test("coming up where nothing was pressed does nothing", () => {
  expect(release(NO_SKETCH, at(1, 1))).toEqual({
    sketch: NO_SKETCH,
    ring: null,
  });
  expect(preview(NO_SKETCH, at(1, 1))).toBeNull();
});
