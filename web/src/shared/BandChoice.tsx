import { Box, Checkbox, Flex, Text } from "@chakra-ui/react";

import type { Scene } from "../api/types";
import { formatLength } from "./format";
import { useViewStore } from "./viewStore";

interface Props {
  readonly scene: Scene;
  readonly roles: readonly string[];
}

/** Which bands go into the classifier, by role; the order is always the scene's. */
export function BandChoice({ scene, roles }: Props) {
  const change = useViewStore((store) => store.change);
  const chosen = new Set(roles);
  const toggle = (role: string) => {
    if (!chosen.delete(role)) chosen.add(role);
    const next = scene.bands.map((band) => band.role).filter((r) => chosen.has(r));
    if (next.length > 0) change({ roles: next });
  };
  return (
    <Box>
      <Text color="quiet" mb="1">
        Bands that go in. The same ones train and are classified.
      </Text>
      {scene.bands.map((band) => (
        <Flex key={band.role} justify="space-between" py="0.5">
          <Checkbox.Root
            size="sm"
            checked={chosen.has(band.role)}
            onCheckedChange={() => toggle(band.role)}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control />
            <Checkbox.Label fontSize="1rem">{band.role}</Checkbox.Label>
          </Checkbox.Root>
          <Text color="quiet">
            {band.wavelength_um !== null && `${band.wavelength_um.toFixed(3)} µm · `}
            {formatLength(band.pixel_size)} {scene.grid.unit}
          </Text>
        </Flex>
      ))}
    </Box>
  );
}
