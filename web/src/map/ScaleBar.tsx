import { useEffect, useState } from "react";

import { type LinkedView, unitAt } from "./linkedView";

const LONGEST_PX = 64;
const WORDS_PX = 46;

/** How long a round number of metres is in the panes. */
export function ScaleBar({ linked }: { readonly linked: LinkedView }) {
  const [metres, setMetres] = useState(() => metresPerPixel(linked));
  useEffect(() => {
    const tell = () => setMetres(metresPerPixel(linked));
    tell();
    linked.view.on(["change:center", "change:resolution"], tell);
    return () => linked.view.un(["change:center", "change:resolution"], tell);
  }, [linked]);
  const length = roundBelow(LONGEST_PX * metres);
  const width = length / metres;
  const words = length >= 1000 ? `${length / 1000} km` : `${length} m`;
  return (
    <svg
      width={width + WORDS_PX}
      height={22}
      role="img"
      aria-label={`Scale: ${Math.round(width)} pixels of the screen are ${words}`}
      style={{ flex: "none" }}
    >
      <path
        d={`M1 8v6h${width}v-6`}
        fill="none"
        stroke="var(--chakra-colors-ink)"
        strokeWidth={1.5}
      />
      <text x={width + 6} y={15} fontSize={11.5} fill="var(--chakra-colors-ink)">
        {words}
      </text>
    </svg>
  );
}

/** To the right, through the middle of the panes. */
function metresPerPixel({ view, grid }: LinkedView): number {
  const y = view.getCenter()?.[1] ?? grid.extent.bottom;
  return (view.getResolution() ?? 1) * unitAt(grid, y);
}

function roundBelow(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  return power * ([5, 2, 1].find((m) => m * power <= value) ?? 1);
}
