import type { Curve } from "../charts";

/** A piece of the line, as it is drawn. */
export function LineSign({ curve }: { readonly curve: Pick<Curve, "colour" | "dashed"> }) {
  return (
    <svg width="16" height="8" aria-hidden style={{ display: "inline", flex: "none" }}>
      <path
        d="M0 4h16"
        stroke={curve.colour ?? "var(--chakra-colors-ink)"}
        strokeWidth="2.5"
        strokeDasharray={curve.dashed ? "5 3" : undefined}
      />
    </svg>
  );
}
