import { Box, Flex, NativeSelect, Text } from "@chakra-ui/react";

import type { Scene } from "../api/types";
import { Choice } from "../shared/Choice";
import { Handle } from "../shared/Handle";
import { rolesOf } from "../shared/view";
import { useViewStore } from "../shared/viewStore";
import type { SceneShow } from "./SceneCaption";

interface Props {
  readonly index: 0 | 1;
  readonly show: SceneShow;
  readonly scene: Scene;
}

const CHANNELS = ["Red", "Green", "Blue"] as const;

/** The handle that changes which bands are seen as red, green and blue. */
export function CompositeChoice({ index, show, scene }: Props) {
  const setPane = useViewStore((store) => store.setPane);
  const choose = (roles: SceneShow["roles"]) => setPane(index, { ...show, roles });
  const now = show.roles.join();
  return (
    <Handle text={show.roles.join(", ")} label="Change the bands shown as red, green and blue">
      {(close) => (
        <>
          {scene.composites.map((composite) => (
            <Choice
              key={composite.id}
              title={`${composite.title}: ${rolesOf(composite).join(", ")}`}
              note={composite.key}
              chosen={rolesOf(composite).join() === now}
              onChoose={() => {
                choose(rolesOf(composite));
                close();
              }}
            />
          ))}
          <Box px="2" pt="2">
            <Text color="quiet" fontSize="0.92em" mb="1">
              Any three bands
            </Text>
            <Flex gap="2">
              {CHANNELS.map((channel, i) => (
                <NativeSelect.Root key={channel} size="sm">
                  <NativeSelect.Field
                    aria-label={`Band shown as ${channel.toLowerCase()}`}
                    value={show.roles[i]}
                    onChange={(event) => {
                      const roles: SceneShow["roles"] = [...show.roles];
                      roles[i] = event.currentTarget.value;
                      choose(roles);
                    }}
                  >
                    {scene.bands.map((band) => (
                      <option key={band.role}>{band.role}</option>
                    ))}
                  </NativeSelect.Field>
                  <NativeSelect.Indicator />
                </NativeSelect.Root>
              ))}
            </Flex>
          </Box>
        </>
      )}
    </Handle>
  );
}
