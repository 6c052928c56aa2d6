import type { FoundScene } from "../../../api/types";
import { useCurrentExtent } from "./useCurrentExtent";

const SIZE = 54;
const MARGIN = 4;

type Ring = readonly (readonly [number, number])[];

/** The scene's outline against the study's present scene, both drawn small. */
export function Footprint({ scene }: { readonly scene: FoundScene }) {
  const extent = useCurrentExtent();
  const ring = outerRing(scene.footprint);
  if (!ring || !extent) return null;
  const { left, right, bottom, top } = extent;
  const own: Ring = [
    [left, bottom],
    [right, bottom],
    [right, top],
    [left, top],
  ];
  const all = [...own, ...ring];
  const xs = all.map(([x]) => x);
  const ys = all.map(([, y]) => y);
  const x0 = Math.min(...xs);
  const y1 = Math.max(...ys);
  const side = Math.max(Math.max(...xs) - x0, y1 - Math.min(...ys));
  const scale = (SIZE - 2 * MARGIN) / side;
  const path = (corners: Ring) =>
    `M${corners.map(([x, y]) => `${MARGIN + (x - x0) * scale} ${MARGIN + (y1 - y) * scale}`).join("L")}Z`;
  return (
    <svg
      width={SIZE}
      height={SIZE}
      role="img"
      aria-label="Footprint (line) over the study's scene (filled)"
      style={{ background: "rgba(255,255,255,0.88)", borderRadius: 4, display: "block" }}
    >
      <path d={path(own)} fill="#B9C6CE" />
      <path d={path(ring)} fill="none" stroke="#1C2A35" strokeWidth={1.5} />
    </svg>
  );
}

function outerRing(footprint: FoundScene["footprint"]): Ring | null {
  const shape = footprint as { type?: string; coordinates?: unknown } | null;
  if (shape?.type !== "Polygon" || !Array.isArray(shape.coordinates)) return null;
  return (shape.coordinates as Ring[])[0] ?? null;
}
