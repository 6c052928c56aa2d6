interface Props {
  readonly values: readonly number[];
  /** Of all spectra beside each other. */
  readonly most: number;
}

const WIDTH = 84;
const HEIGHT = 34;

/** A spectrum in a few strokes; its numbers stand elsewhere. */
export function MiniSpectrum({ values, most }: Props) {
  const step = WIDTH / Math.max(values.length - 1, 1);
  const scale = most > 0 ? (HEIGHT - 4) / most : 0;
  const points = values.map((v, i) => `${i * step},${HEIGHT - 2 - Math.max(0, v) * scale}`);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      height={HEIGHT}
      preserveAspectRatio="none"
      aria-hidden
    >
      <polyline
        points={points.join(" ")}
        fill="none"
        stroke="var(--chakra-colors-ink)"
        strokeWidth={1.6}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
