import { chakra, Flex, Text } from "@chakra-ui/react";

import type { ClassTraining, LandClass } from "../../api/types";
import { formatCount } from "../../shared/format";
import { KeyCap } from "../../shared/KeyCap";
import { Swatch } from "../../shared/Swatch";
import { ClassEditor } from "./ClassEditor";

const Pick = chakra("button", {
  base: {
    display: "flex",
    alignItems: "center",
    gap: "2",
    flex: 1,
    minW: 0,
    textAlign: "start",
    cursor: "pointer",
    py: "0.5",
    minH: "24px",
  },
});

interface Props {
  readonly row: LandClass;
  readonly hotkey: string;
  readonly active: boolean;
  readonly training: ClassTraining | undefined;
  /** Not known until the sites have been counted. */
  readonly usualMinimum: number | null;
  readonly onPick: () => void;
}

export function ClassRow({ row, hotkey, active, training, usualMinimum, onPick }: Props) {
  return (
    <Flex
      role="listitem"
      align="center"
      px="1"
      borderRadius="3px"
      bg={active ? "coolTint" : undefined}
      boxShadow={active ? "inset 2px 0 0 var(--chakra-colors-cool)" : undefined}
    >
      <Pick type="button" aria-pressed={active} onClick={onPick} title={row.description}>
        <KeyCap aria-hidden={hotkey === ""}>{hotkey}</KeyCap>
        <Swatch colour={row.colour} />
        <Text flex="1" truncate fontWeight={active ? 650 : undefined}>
          {row.name}
        </Text>
      </Pick>
      <Text minW="2rem" ps="2" textAlign="end" color="quiet" whiteSpace="nowrap">
        {usualMinimum === null ? "–" : formatCount(training?.n_sites ?? 0)}
      </Text>
      <PixelCount pixels={training?.n_pixels ?? 0} usualMinimum={usualMinimum} />
      <ClassEditor row={row} nSites={training?.n_sites ?? 0} />
    </Flex>
  );
}

interface CountProps {
  readonly pixels: number;
  readonly usualMinimum: number | null;
}

function PixelCount({ pixels, usualMinimum }: CountProps) {
  if (usualMinimum === null || pixels >= usualMinimum) {
    return (
      <Text minW="3.8rem" textAlign="end" color="quiet" whiteSpace="nowrap">
        {usualMinimum === null ? "–" : formatCount(pixels)}
      </Text>
    );
  }
  const remark = `Fewer than the usual ${formatCount(usualMinimum)} pixels (ten per band)`;
  return (
    <Text
      minW="3.8rem"
      whiteSpace="nowrap"
      textAlign="end"
      color="caution"
      fontWeight="650"
      title={remark}
    >
      {formatCount(pixels)}
      <chakra.span srOnly>, {remark}</chakra.span>
    </Text>
  );
}
