import { Box, Checkbox, Flex, IconButton, Input, Text } from "@chakra-ui/react";
import { ArrowDown, ArrowUp } from "lucide-react";
import type { ReactNode } from "react";

import type { ProposedBand, Ranges, SceneTake } from "../../../api/types";
import { DataTable } from "../../../shared/DataTable";
import { formatLength, formatValue } from "../../../shared/format";
import { RoleField } from "./RoleField";
import { type Vocabulary, withRole } from "./roles";

type BandOrder = SceneTake["bands"][number];

interface Props {
  /** Of pixel sizes; nothing where the coordinate system is not known. */
  readonly unit: string;
  readonly label: string;
  readonly proposed: readonly ProposedBand[];
  readonly bands: readonly BandOrder[];
  readonly ranges: Ranges | undefined;
  readonly known: Vocabulary;
  readonly onBands: (bands: BandOrder[]) => void;
}

const columnsOf = (unit: string) => [
  { head: "#", end: true },
  { head: "Use" },
  { head: "Role" },
  { head: "Band" },
  { head: "File" },
  { head: "µm", end: true },
  { head: unit === "" ? "Pixel" : `Pixel, ${unit}`, end: true },
  { head: "Type and range" },
  { head: "Gain", end: true },
  { head: "Offset", end: true },
  { head: "Order" },
];

/** Position, role, file, wavelength, resolution and type side by side: none is taken for another. */
export function BandTable({ label, unit, proposed, bands, ranges, known, onBands }: Props) {
  const rows = bands.map((band, i) => ({
    key: band.position,
    pale: !band.used,
    cells: bandCells({
      band,
      facts: proposed[band.position],
      range: rangeWords(ranges, band.position),
      known,
      place: bands.slice(0, i + 1).filter((b) => b.used).length,
      isFirst: i === 0,
      isLast: i === bands.length - 1,
      change: (part) => onBands(bands.map((b, at) => (at === i ? { ...b, ...part } : b))),
      move: (by) => onBands(moved(bands, i, by)),
    }),
  }));
  return <DataTable label={label} columns={columnsOf(unit)} rows={rows} />;
}

function rangeWords(ranges: Ranges | undefined, position: number): string {
  const found = ranges?.bands[position];
  if (!found) return "…";
  return found.low === null
    ? "only fill"
    : `${formatValue(found.low)} to ${formatValue(found.high)}`;
}

function moved(bands: readonly BandOrder[], from: number, by: 1 | -1): BandOrder[] {
  const next = [...bands];
  const [band] = next.splice(from, 1);
  if (band) next.splice(from + by, 0, band);
  return next;
}

interface BandRow {
  band: BandOrder;
  facts: ProposedBand | undefined;
  range: string;
  known: Vocabulary;
  place: number;
  isFirst: boolean;
  isLast: boolean;
  change: (part: Partial<BandOrder>) => void;
  move: (by: 1 | -1) => void;
}

function bandCells({
  band,
  facts,
  range,
  known,
  place,
  isFirst,
  isLast,
  change,
  move,
}: BandRow): ReactNode[] {
  if (!facts) return [];
  const { name, file, reason } = facts;
  return [
    band.used ? place : "–",
    <Checkbox.Root
      key="use"
      size="sm"
      checked={band.used}
      onCheckedChange={() => change({ used: !band.used })}
    >
      <Checkbox.HiddenInput aria-label={`Use ${name}`} />
      <Checkbox.Control />
    </Checkbox.Root>,
    <RoleField
      key="role"
      label={`What ${name} sees`}
      value={band.role}
      known={known}
      onRole={(role) => change(withRole(band, role, known))}
    />,
    <Box key="name" maxW="10rem">
      {name}
      {reason && !band.used && (
        <Text fontSize="0.92rem" lineHeight="1.2">
          {reason}
        </Text>
      )}
    </Box>,
    <span key="file" title={file}>
      {shortName(file)}
    </span>,
    band.wavelength_um?.toFixed(3) ?? "–",
    formatLength(facts.pixel_size),
    <Box key="kind">
      {facts.kind}
      <Text color="quiet" whiteSpace="nowrap">
        {range}
      </Text>
    </Box>,
    <NumberCell
      key="gain"
      label={`Gain of ${name}`}
      value={band.gain}
      onNumber={(gain) => change({ gain })}
    />,
    <NumberCell
      key="offset"
      label={`Offset of ${name}`}
      value={band.offset}
      onNumber={(offset) => change({ offset: offset ?? 0 })}
    />,
    <Flex key="order">
      <MoveButton up name={name} disabled={isFirst} onClick={() => move(-1)} />
      <MoveButton up={false} name={name} disabled={isLast} onClick={() => move(1)} />
    </Flex>,
  ];
}

/** The end of a long file name tells the bands apart. */
function shortName(path: string): string {
  const name = path.split("/").at(-1) ?? path;
  return name.length > 16 ? `…${name.slice(-14)}` : name;
}

interface NumberProps {
  readonly label: string;
  readonly value: number | null | undefined;
  readonly onNumber: (value: number | null) => void;
}

function NumberCell({ label, value, onNumber }: NumberProps) {
  return (
    <Input
      size="2xs"
      width="5.2rem"
      bg="card"
      textAlign="end"
      aria-label={label}
      placeholder="none"
      defaultValue={
        value === null || value === undefined ? "" : String(Number(value.toPrecision(7)))
      }
      onBlur={(event) => {
        const text = event.currentTarget.value.trim();
        const number = Number(text);
        if (text === "") onNumber(null);
        else if (Number.isFinite(number)) onNumber(number);
      }}
    />
  );
}

interface MoveProps {
  readonly up: boolean;
  readonly name: string;
  readonly disabled: boolean;
  readonly onClick: () => void;
}

function MoveButton({ up, name, disabled, onClick }: MoveProps) {
  return (
    <IconButton
      size="2xs"
      variant="ghost"
      aria-label={`Move ${name} ${up ? "up" : "down"}`}
      disabled={disabled}
      onClick={onClick}
    >
      {up ? <ArrowUp /> : <ArrowDown />}
    </IconButton>
  );
}
