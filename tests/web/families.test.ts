import { familiesOf } from "../../web/src/stations/correct/families";

const scene = (
  id: number,
  families: string[],
  made_of: number[] = [],
  more = {},
) =>
  ({
    id,
    made_of,
    origin: "corrected",
    quantity: "numbers",
    steps: families.map((family) => ({ family })),
    ...more,
  }) as never;

test("a scene has had what its parents have had, and reflectance when it came so", () => {
  const first = scene(1, [], [], {
    origin: "delivered",
    quantity: "reflectance",
  });
  const second = scene(2, ["haze"], [1]);
  const third = scene(3, ["mask", "mask"], [2, 3]);
  expect([...familiesOf(third, [first, second, third])].sort()).toEqual([
    "haze",
    "mask",
    "values",
  ]);
  expect([...familiesOf(first, [first, second])]).toEqual(["values"]);
});
