import { Dot } from "./Dot";
import type { Coordinate } from "./linkedView";

interface Props {
  readonly follow: (tell: (at: Coordinate | null) => void) => () => void;
}

const MARK =
  '<svg width="18" height="18" viewBox="0 0 18 18" aria-hidden="true">' +
  '<circle cx="9" cy="9" r="6" fill="none" stroke="#1C2A35" stroke-width="5"/>' +
  '<circle cx="9" cy="9" r="6" fill="none" stroke="#fff" stroke-width="2.4"/></svg>';

/** The place on the line that the chart's pointer is at. */
export function LinePlace({ follow }: Props) {
  return <Dot follow={follow} picture={MARK} />;
}
