import { type MapGrid, unitAt } from "../../web/src/map/linkedView";

const GRID = {
  units_m: [0.6, 0.5, 0.45],
  extent: { left: 0, right: 10, bottom: 100, top: 300 },
} as unknown as MapGrid;

test.each([
  [100, 0.6],
  [150, 0.55],
  [200, 0.5],
  [300, 0.45],
  [0, 0.6],
  [999, 0.45],
])("at a height of %d a unit is %d m", (y, metres) => {
  expect(unitAt(GRID, y)).toBeCloseTo(metres, 10);
});
