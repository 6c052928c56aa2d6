import type { Findings, Proposal, SceneTake } from "../../../api/types";
import { formatDate } from "../../../shared/format";
import { strangeRoles, type Vocabulary } from "./roles";

/** A recognised scene with what the analyst says of it. */
export interface Draft {
  proposal: Proposal;
  include: boolean;
  order: SceneTake;
  /** Roles that nobody knows and that are meant so. */
  ownRoles: readonly string[];
}

export interface SeriesGroup {
  role: string;
  drafts: Draft[];
}

const LEAST_DATES = 3;

export function makeDrafts(findings: Findings): Draft[] {
  // Where nothing is complete, what is asked is in view at once; else it is left for whoever wants it.
  const nothingComplete = !findings.scenes.some(isComplete);
  const titles = findings.scenes.map(titleOf);
  const drafts = findings.scenes.map((proposal) => {
    const title = titleOf(proposal);
    const isOnlyOne = titles.filter((other) => other === title).length === 1;
    const include = nothingComplete || isComplete(proposal);
    return makeDraft(proposal, include, isOnlyOne ? title : proposal.name);
  });
  const inSeries = new Set(seriesGroups(drafts).flatMap((group) => group.drafts));
  return drafts.map((draft) =>
    inSeries.has(draft)
      ? { ...draft, order: { ...draft.order, series: seriesName(draft.proposal) } }
      : draft,
  );
}

function isComplete(proposal: Proposal): boolean {
  return proposal.questions.length === 0 || proposal.looks_like_series;
}

/** Sensor and date say more than a provider's forty letters. */
function titleOf({ sensor, acquired, name, looks_like_series }: Proposal): string {
  const isKnown = !looks_like_series && acquired !== null && sensor !== "Unknown sensor";
  return isKnown ? `${sensor}, ${formatDate(acquired)}` : name;
}

function makeDraft(proposal: Proposal, include: boolean, title: string): Draft {
  return {
    proposal,
    include,
    // Dates of an index are recognised by its name, which is their role.
    ownRoles: proposal.looks_like_series ? proposal.bands.map((band) => band.role) : [],
    order: {
      position: proposal.position,
      title,
      sensor: proposal.sensor,
      acquired: proposal.acquired,
      crs: null,
      fill_value: proposal.fill_value,
      grid: "finest",
      resampling: "nearest",
      series: null,
      bands: proposal.bands.map(({ position, role, wavelength_um, gain, offset, used }) => ({
        position,
        role,
        wavelength_um,
        gain,
        offset,
        used,
      })),
    },
  };
}

function seriesName(proposal: Proposal): string {
  const [band] = proposal.bands;
  const year = proposal.acquired?.slice(0, 4) ?? "";
  return `${band?.role ?? "series"} ${year}`;
}

/** Scenes of one band and a date each, that are better taken as one series. */
export function seriesGroups(drafts: readonly Draft[]): SeriesGroup[] {
  const byRole = new Map<string, Draft[]>();
  for (const draft of drafts) {
    if (!draft.proposal.looks_like_series) continue;
    const role = draft.proposal.bands[0]?.role ?? "";
    byRole.set(role, [...(byRole.get(role) ?? []), draft]);
  }
  return [...byRole]
    .filter(([, members]) => members.length >= LEAST_DATES)
    .map(([role, members]) => ({ role, drafts: members }));
}

/** What still has to be said before a scene can be taken; null when nothing. */
export function lacking(draft: Draft, known: Vocabulary): string | null {
  const { proposal, order, ownRoles } = draft;
  const used = order.bands.filter((band) => band.used);
  if (used.length === 0) return "Choose at least one band.";
  const without = used.filter((band) => band.role.trim() === "").length;
  if (without > 0) return `Say what ${without === 1 ? "one band sees" : `${without} bands see`}.`;
  const [strange] = strangeRoles(order.bands, known, ownRoles);
  if (strange !== undefined) return `Say what is meant by the role “${strange}”.`;
  const roles = used.map((band) => band.role);
  const twice = roles.find((role, i) => roles.indexOf(role) !== i);
  if (twice !== undefined) return `The role ${twice} is given twice.`;
  if (proposal.crs === null && order.crs === null) return "Give the coordinate system.";
  if (order.title.trim() === "") return "Give it a name.";
  return null;
}

/** What the used bands will mean: by the metadata's factors, or by a gain that was typed. */
export function quantitiesOf({ proposal, order }: Draft): string[] {
  const meanings = order.bands
    .filter((band) => band.used)
    .map(({ position, gain }) => {
      const told = proposal.bands.find((band) => band.position === position);
      const known = told?.quantity ?? "numbers";
      if (gain !== null) return known === "numbers" ? "reflectance" : known;
      return told?.gain === null && known !== "numbers" ? known : "raw numbers";
    });
  return [...new Set(meanings)];
}
