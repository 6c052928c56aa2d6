import { describe, expect, it } from "vitest";

import type { LineProfile } from "../../web/src/api/types";
import { runsOf } from "../../web/src/readout/line/runs";

const LEGEND = {
  legend: [
    { code: 1, name: "Water", colour: "#111111" },
    { code: 2, name: "Sand", colour: "#222222" },
  ],
} as unknown as Parameters<typeof runsOf>[2];

function along(n: number): LineProfile {
  return {
    distance_m: Array.from({ length: n }, (_, i) => 10 * i),
  } as unknown as LineProfile;
}

describe("classes along a line", () => {
  it("run from the middle between two places to the next", () => {
    expect(runsOf(along(5), [1, 1, 2, 2, 2], LEGEND)).toEqual([
      { from: 0, to: 15, label: "Water", colour: "#111111" },
      { from: 15, to: 40, label: "Sand", colour: "#222222" },
    ]);
  });

  it("leave out what has no class", () => {
    const runs = runsOf(along(4), [null, 1, 1, null], LEGEND);
    expect(runs).toEqual([
      { from: 5, to: 25, label: "Water", colour: "#111111" },
    ]);
  });

  it("are named where there is room", () => {
    const codes = [
      ...Array<number>(60).fill(1),
      2,
      ...Array<number>(59).fill(1),
    ];
    expect(runsOf(along(120), codes, LEGEND).map(({ label }) => label)).toEqual(
      ["Water", "", "Water"],
    );
  });
});
