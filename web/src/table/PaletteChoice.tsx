import { Flex, Text } from "@chakra-ui/react";

import { usePalettes } from "../api/queries/look";
import type { Palette } from "../api/types";
import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { Select } from "../shared/Select";
import { Toggle } from "../shared/Toggle";
import type { PaletteShow, PaneIndex, SceneShow } from "../shared/view";
import { PaletteStrip } from "./PaletteStrip";
import { useChangeShow } from "./useChangeShow";

interface Props {
  readonly index: PaneIndex;
  readonly show: SceneShow;
  readonly palette: PaletteShow;
}

const STEPS = [4, 5, 6, 8, 10, 12];

/** The handle that changes the colours of a single band. */
export function PaletteChoice({ index, show, palette }: Props) {
  const { data: palettes = [] } = usePalettes();
  const { change } = useChangeShow(index, show);
  const set = (part: Partial<PaletteShow>) => change({ palette: { ...palette, ...part } });
  const now = palettes.find((one) => one.id === palette.id);
  return (
    <Handle text={wordsOf(now, palette)} label="Change the palette">
      {() => (
        <>
          <Flex gap="2" px="2" pb="2" align="center">
            <Toggle
              label="Reversed"
              on={palette.reverse}
              onClick={() => set({ reverse: !palette.reverse })}
            />
            <Select
              label="Steps of the palette"
              hideLabel
              value={String(palette.steps ?? 0)}
              options={[
                { value: "0", label: "continuous" },
                ...STEPS.map((n) => ({ value: String(n), label: `${n} steps` })),
              ]}
              onValue={(value) => set({ steps: Number(value) || null })}
            />
          </Flex>
          {palettes.map((one) => (
            <Choice
              key={one.id}
              title={one.title}
              note={one.note}
              chosen={one.id === palette.id}
              onChoose={() => set({ id: one.id })}
            >
              <PaletteStrip colours={one.colours} palette={{ ...palette, id: one.id }} />
            </Choice>
          ))}
          <Text color="quiet" px="2" pt="1">
            {now?.source}
          </Text>
        </>
      )}
    </Handle>
  );
}

function wordsOf(now: Palette | undefined, { reverse, steps }: PaletteShow): string {
  const parts = [now?.title.toLowerCase() ?? "a palette"];
  if (reverse) parts.push("reversed");
  if (steps !== null) parts.push(`${steps} steps`);
  return parts.join(", ");
}
