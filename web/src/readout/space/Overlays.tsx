import type { Ellipse, LandClass, SoilLine } from "../../api/types";
import type { DensityFrame } from "../../charts";
import { ringOf } from "./ellipse";

interface Props {
  readonly frame: DensityFrame;
  readonly ellipses: readonly Ellipse[];
  readonly classes: readonly LandClass[];
  readonly soil: SoilLine | null;
  readonly cloud: readonly (readonly [number, number])[];
  readonly here: [number, number] | null;
}

/** Classes, soil line, circled cloud and the crosshair's pixel over a density. */
export function Overlays({ frame, ellipses, classes, soil, cloud, here }: Props) {
  const points = (ring: readonly (readonly [number, number])[]) =>
    ring
      .map((at) =>
        frame
          .toPixels(at)
          .map((v) => v.toFixed(1))
          .join(" "),
      )
      .join(",");
  const spot = here && frame.toPixels(here);
  return (
    <g>
      {ellipses.map((ellipse) => {
        const row = classes.find((c) => c.code === ellipse.code);
        return (
          <g key={ellipse.code}>
            <title>{row?.name}</title>
            <polygon points={points(ringOf(ellipse))} fill="none" stroke="#fff" strokeWidth={3.6} />
            <polygon
              points={points(ringOf(ellipse))}
              fill="none"
              stroke={row?.colour ?? "#888888"}
              strokeWidth={2}
            />
          </g>
        );
      })}
      {soil && (
        <polygon
          points={points([
            [soil.low, soil.slope * soil.low + soil.intercept],
            [soil.high, soil.slope * soil.high + soil.intercept],
          ])}
          fill="none"
          stroke="var(--chakra-colors-warm)"
          strokeWidth={2}
        />
      )}
      {cloud.length > 2 && (
        <polygon
          points={points(cloud)}
          fill="#00E5FF"
          fillOpacity={0.18}
          stroke="var(--chakra-colors-cool)"
          strokeWidth={1.6}
        />
      )}
      {spot && (
        <>
          <circle cx={spot[0]} cy={spot[1]} r={5} fill="none" stroke="#fff" strokeWidth={4} />
          <circle
            cx={spot[0]}
            cy={spot[1]}
            r={5}
            fill="none"
            stroke="var(--chakra-colors-warm)"
            strokeWidth={2}
          />
        </>
      )}
    </g>
  );
}
