import type { StretchOrder } from "../api/types";
import type { SceneShow, Stretch } from "../shared/view";

/** The bands that are shown: three, or the first one in the colours of a palette. */
export function shownRoles(show: SceneShow): string[] {
  return show.palette ? [show.roles[0]] : show.roles;
}

/** What the server is told of a stretch; the usual parts are left out. */
export function stretchOrder(show: SceneShow): StretchOrder {
  const { stretch } = show;
  return {
    roles: shownRoles(show).join(","),
    ...kindOrder(stretch),
    ...(stretch.shared && { shared: true }),
    ...overOrder(stretch),
    ...(show.stretchOf !== undefined && { stretch_of: show.stretchOf }),
  };
}

function kindOrder({ kind, low, high, deviations, limits }: Stretch): Partial<StretchOrder> {
  switch (kind) {
    case "percentile":
      return { low, high };
    case "deviations":
      return { stretch: kind, deviations };
    case "typed":
      return { stretch: kind, limits: limits.map((pair) => pair.join(":")).join(",") };
    default:
      return { stretch: kind };
  }
}

function overOrder({ over, kind }: Stretch): Partial<StretchOrder> {
  if (over === "scene" || kind === "typed" || kind === "none") return {};
  return "site" in over ? { site: over.site } : { extent: over.extent.join(",") };
}

/** The same as the query of a tile's address. */
export function stretchQuery(show: SceneShow): string {
  const { palette } = show;
  const parts: Record<string, unknown> = {
    ...stretchOrder(show),
    ...(palette && { palette: palette.id }),
    ...(palette?.reverse && { reverse: true }),
    ...(palette?.steps && { steps: palette.steps }),
  };
  return Object.entries(parts)
    .map(([key, value]) => `${key}=${String(value)}`)
    .join("&");
}

/** The stretch in the words of a caption. */
export function stretchWords({ kind, low, high, deviations }: Stretch): string {
  switch (kind) {
    case "percentile":
      return `${low} to ${high} %`;
    case "extremes":
      return "from least to most";
    case "deviations":
      return `mean ± ${deviations} s.d.`;
    case "equalise":
      return "equalised";
    case "typed":
      return "between set limits";
    case "none":
      return "not at all";
  }
}
