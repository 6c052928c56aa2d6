import { Box, Checkbox, Flex, Text } from "@chakra-ui/react";

import { useRanges } from "../../../api/queries/deliveries";
import { DateField } from "../../../shared/DateField";
import { CrsField } from "../../../shared/CrsField";
import { formatCount, formatLength } from "../../../shared/format";
import { Panel } from "../../../shared/Panel";
import { Remark } from "../../../shared/Remark";
import { Select } from "../../../shared/Select";
import { TextField } from "../../../shared/TextField";
import { BandTable } from "./BandTable";
import { type Draft, lacking, quantitiesOf } from "./draft";
import { RoleQuestions } from "./RoleQuestions";
import { RolesInOrder } from "./RolesInOrder";
import { useVocabulary } from "./useVocabulary";

interface Props {
  readonly deliveryId: number;
  readonly draft: Draft;
  readonly onDraft: (draft: Draft) => void;
}

const RESAMPLINGS = [
  { value: "nearest", label: "nearest neighbour: keeps measured values" },
  { value: "bilinear", label: "bilinear: smooth" },
  { value: "cubic", label: "cubic convolution: smooth, sharper" },
  { value: "average", label: "average: for coarser grids" },
];

/** One recognised scene: what is known of it, what is asked, and its bands. */
export function ProposalForm({ deliveryId, draft, onDraft }: Props) {
  const { proposal, order, include } = draft;
  const change = (part: Partial<Draft["order"]>) =>
    onDraft({ ...draft, order: { ...order, ...part } });
  const { data: ranges } = useRanges(deliveryId, proposal.position, include);
  const known = useVocabulary();
  const missing = include ? lacking(draft, known) : null;
  const roles = order.bands.filter((b) => b.used && b.role).map((b) => b.role);
  return (
    <Panel as="article" aria-label={proposal.name} p="4" opacity={include ? 1 : 0.75}>
      <Flex gap="3" align="center" wrap="wrap">
        <Checkbox.Root
          checked={include}
          onCheckedChange={() => onDraft({ ...draft, include: !include })}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontWeight="650" fontSize="1.08rem">
            {proposal.name}
          </Checkbox.Label>
        </Checkbox.Root>
        <Text color="quiet">{factsOf(draft)}</Text>
      </Flex>
      {include &&
        proposal.questions.map((question) => (
          <Remark key={question} tone="caution">
            {question}
          </Remark>
        ))}
      {proposal.remarks.map((remark) => (
        <Remark key={remark} tone="calm">
          {remark}
        </Remark>
      ))}
      {include && (
        <>
          <Flex gap="3" mt="3" wrap="wrap" align="flex-start">
            <TextField
              label="Name in the study"
              value={order.title}
              onText={(title) => change({ title })}
              flex="1"
              minW="14rem"
            />
            <TextField
              label="Sensor"
              value={order.sensor}
              onText={(sensor) => change({ sensor })}
              width="13rem"
            />
            <DateField
              label="Date"
              value={order.acquired ?? ""}
              onDay={(text) => change({ acquired: text || null })}
              width="10.5rem"
            />
          </Flex>
          <Flex gap="3" mt="3" wrap="wrap" align="flex-start">
            <Select
              label="Grid of the stack"
              value={order.grid}
              options={[
                { value: "finest", label: "of the finest band" },
                { value: "coarsest", label: "of the coarsest band" },
                ...roles.map((role) => ({ value: role, label: `of ${role}` })),
              ]}
              onValue={(grid) => change({ grid })}
              width="13rem"
            />
            <Select
              label="Other bands come onto it by"
              value={order.resampling}
              options={RESAMPLINGS}
              onValue={(value) => change({ resampling: value as Draft["order"]["resampling"] })}
              width="21rem"
            />
            <TextField
              label="Value of no data"
              value={order.fill_value === null ? "" : String(order.fill_value)}
              onText={(text) => change({ fill_value: text === "" ? null : Number(text) || 0 })}
              width="8rem"
            />
          </Flex>
          <Box mt="3">
            <CrsField
              label={proposal.crs === null ? "Coordinate system" : "Replace the coordinate system"}
              value={order.crs ?? null}
              help={
                proposal.crs === null
                  ? "The file names none."
                  : `The files say ${proposal.crs_name}. Fill this in only when that is wrong; no pixel is moved.`
              }
              onCrs={(crs) => change({ crs })}
            />
          </Box>
          <RolesInOrder bands={order.bands} known={known} onBands={(bands) => change({ bands })} />
          <RoleQuestions deliveryId={deliveryId} draft={draft} known={known} onDraft={onDraft} />
          <Box mt="3">
            <BandTable
              unit={proposal.unit}
              label={`Bands of ${proposal.name}`}
              proposed={proposal.bands}
              bands={order.bands}
              ranges={ranges}
              known={known}
              onBands={(bands) => change({ bands })}
            />
          </Box>
          {ranges && <Text color="quiet">{ranges.looks_like}</Text>}
          {missing !== null && <Remark tone="caution">{missing}</Remark>}
        </>
      )}
    </Panel>
  );
}

function factsOf(draft: Draft): string {
  const { proposal } = draft;
  const sun = proposal.sun_elevation_deg;
  return [
    `${formatCount(proposal.rows)} × ${formatCount(proposal.columns)} pixels of ${formatLength(proposal.pixel_size)} ${proposal.unit}`.trim(),
    proposal.crs_name ?? "no coordinate system",
    sun === null ? "" : `sun ${sun.toFixed(1)}° high`,
    `comes in as ${quantitiesOf(draft).join(" and ")}`,
    proposal.flags.length > 0 ? `quality: ${proposal.flags.join(", ").replaceAll("_", " ")}` : "",
  ]
    .filter(Boolean)
    .join(" · ");
}
