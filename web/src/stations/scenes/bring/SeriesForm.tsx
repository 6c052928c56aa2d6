import { Checkbox, Flex, Text } from "@chakra-ui/react";

import { formatDate } from "../../../shared/format";
import { Panel } from "../../../shared/Panel";
import { Remark } from "../../../shared/Remark";
import { TextField } from "../../../shared/TextField";
import type { Draft, SeriesGroup } from "./draft";

interface Props {
  readonly group: SeriesGroup;
  readonly onDrafts: (drafts: Draft[]) => void;
}

/** Many dates of one band, taken as one series. */
export function SeriesForm({ group, onDrafts }: Props) {
  const { role, drafts } = group;
  const [first] = drafts;
  const dates = drafts.map((d) => d.order.acquired ?? "").sort();
  if (!first) return null;
  const gain = first.order.bands[0]?.gain ?? null;
  const include = drafts.some((d) => d.include);
  const changeAll = (change: (draft: Draft) => Draft) => onDrafts(drafts.map(change));
  const setGain = (text: string) =>
    changeAll((draft) => ({
      ...draft,
      order: {
        ...draft.order,
        bands: draft.order.bands.map((b) => ({ ...b, gain: Number(text) || null })),
      },
    }));
  return (
    <Panel as="article" aria-label={`Series of ${role}`} p="4">
      <Flex gap="3" align="center" wrap="wrap">
        <Checkbox.Root
          checked={include}
          onCheckedChange={() => changeAll((d) => ({ ...d, include: !include }))}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontWeight="650" fontSize="1.08rem">
            {drafts.length} dates of {role}, as one series
          </Checkbox.Label>
        </Checkbox.Root>
        <Text color="quiet">
          {formatDate(dates[0] || null)} to {formatDate(dates.at(-1) || null)}
        </Text>
      </Flex>
      {first.proposal.questions.map((question) => (
        <Remark key={question} tone="caution">
          {question}
        </Remark>
      ))}
      {include && (
        <Flex gap="3" mt="3" wrap="wrap">
          <TextField
            label="Name of the series"
            value={first.order.series ?? ""}
            onText={(series) => changeAll((d) => ({ ...d, order: { ...d.order, series } }))}
            flex="1"
            minW="14rem"
          />
          <TextField
            label="Factor"
            help="Every number is multiplied by it."
            value={gain === null ? "" : String(gain)}
            onText={setGain}
            width="11rem"
          />
        </Flex>
      )}
    </Panel>
  );
}
