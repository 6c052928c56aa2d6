import { Text } from "@chakra-ui/react";

import type { Findings } from "../../../api/types";
import { plural } from "../../../shared/format";
import { Remark } from "../../../shared/Remark";
import { type Draft, seriesGroups } from "./draft";
import { ProposalForm } from "./ProposalForm";
import { SeriesForm } from "./SeriesForm";

interface Props {
  readonly deliveryId: number;
  readonly findings: Findings;
  readonly drafts: readonly Draft[];
  readonly onDrafts: (drafts: Draft[]) => void;
}

/** Everything that was recognised, and in words what could not be understood. */
export function FindingsList({ deliveryId, findings, drafts, onDrafts }: Props) {
  const groups = seriesGroups(drafts);
  const grouped = new Set(groups.flatMap((group) => group.drafts));
  const replace = (changed: Draft[]) => {
    const byPosition = new Map(changed.map((d) => [d.order.position, d]));
    onDrafts(drafts.map((d) => byPosition.get(d.order.position) ?? d));
  };
  return (
    <>
      {findings.problems.map((problem) => (
        <Remark key={problem} tone="problem">
          {problem}
        </Remark>
      ))}
      {drafts.length === 0 && (
        <Remark tone="caution">
          No scene was recognised here. Bring in GeoTIFF or JPEG 2000 files, with their metadata.
        </Remark>
      )}
      {groups.map((group) => (
        <SeriesForm key={group.role} group={group} onDrafts={replace} />
      ))}
      {drafts
        .filter((draft) => !grouped.has(draft))
        .map((draft) => (
          <ProposalForm
            key={draft.order.position}
            deliveryId={deliveryId}
            draft={draft}
            onDraft={(changed) => replace([changed])}
          />
        ))}
      {findings.n_other_files > 0 && (
        <Text color="quiet" mt="3">
          {plural(findings.n_other_files, "other file")} (previews, angles, boundaries and the like){" "}
          {findings.n_other_files === 1 ? "is" : "are"} left alone.
        </Text>
      )}
    </>
  );
}
