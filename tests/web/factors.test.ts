import { rolesOf, withFactor } from "../../web/src/forms/widgets/bandFactors";

const GENERAL = { scale: 0.0001, offset: 0 };

test("bands of all scenes, and those that have factors already", () => {
  const scene = { bands: [{ role: "red" }, { role: "nir" }] } as never;
  const given = [{ role: "pan", scale: 1, offset: 0 }];
  expect(rolesOf([scene, scene], given)).toEqual(["red", "nir", "pan"]);
});

test("a factor of a band's own leaves the other one general, and the others alone", () => {
  const one = withFactor([], "red", { scale: 2 }, GENERAL);
  expect(one).toEqual([{ role: "red", scale: 2, offset: 0 }]);
  const two = withFactor(one, "nir", { offset: -0.1 }, GENERAL);
  expect(withFactor(two, "red", { offset: 1 }, GENERAL)).toEqual([
    { role: "red", scale: 2, offset: 1 },
    { role: "nir", scale: 0.0001, offset: -0.1 },
  ]);
});
