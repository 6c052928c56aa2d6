import type { PaletteShow } from "../shared/view";

interface Props {
  readonly colours: readonly string[];
  readonly palette: PaletteShow;
  readonly height?: number;
}

/** A palette from its first to its last colour. */
export function PaletteStrip({ colours, palette, height = 8 }: Props) {
  const run = palette.reverse ? [...colours].reverse() : colours;
  return (
    <span
      aria-hidden
      style={{
        display: "block",
        height,
        borderRadius: 2,
        border: "1px solid var(--chakra-colors-line)",
        background: `linear-gradient(to right, ${stopsOf(run, palette.steps)})`,
      }}
    />
  );
}

function stopsOf(colours: readonly string[], steps: number | null): string {
  if (steps === null) return colours.join(", ");
  const at = (i: number) => colours[Math.round((i / (steps - 1)) * (colours.length - 1))] ?? "";
  return Array.from({ length: steps }, (_, i) => {
    const share = (k: number) => `${((100 * k) / steps).toFixed(1)}%`;
    return `${at(i)} ${share(i)} ${share(i + 1)}`;
  }).join(", ");
}
