import { Dot } from "./Dot";
import type { Coordinate } from "./linkedView";

interface Props {
  readonly follow: (tell: (at: Coordinate | null) => void) => () => void;
}

const MARK =
  '<svg width="33" height="33" viewBox="0 0 33 33" aria-hidden="true">' +
  '<path d="M16.5 1v12M16.5 20v12M1 16.5h12M20 16.5h12" stroke="#1C2A35" stroke-width="3.6" opacity=".75"/>' +
  '<path d="M16.5 1v12M16.5 20v12M1 16.5h12M20 16.5h12" stroke="#fff" stroke-width="1.5"/></svg>';

/** The place that all panes look at. */
export function Crosshair({ follow }: Props) {
  return <Dot follow={follow} picture={MARK} />;
}
