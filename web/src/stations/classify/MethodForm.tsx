import { Box, NativeSelect, Text } from "@chakra-ui/react";

import { useClassifiers } from "../../api/queries/runs";
import type { Surety } from "../../api/types";
import { BandChoice } from "../../shared/BandChoice";
import { Choice } from "../../shared/Choice";
import { plural } from "../../shared/format";
import { Handle } from "../../shared/Handle";
import { Part } from "../../shared/Part";
import { useCurrentScene } from "../../shared/useCurrent";
import { useView, useViewStore } from "../../shared/viewStore";
import { AllDates } from "./AllDates";
import { LiveRounds } from "./LiveRounds";
import { MethodSettings } from "./MethodSettings";
import { SuretyChoice } from "./SuretyChoice";
import { WithinChoice } from "./WithinChoice";
import type { useWhere } from "./useWhere";
import { Folded } from "../../shared/Folded";

interface Props {
  readonly give: Surety;
  readonly onGive: (give: Surety) => void;
  readonly place: ReturnType<typeof useWhere>;
}

/** The method in hand, its settings, and what is made beside the map. */
export function MethodForm({ give, onGive, place }: Props) {
  const scene = useCurrentScene();
  const { roles, method: inHand } = useView("roles", "method");
  const change = useViewStore((store) => store.change);
  const { data: classifiers } = useClassifiers();
  const method = classifiers?.find((one) => one.id === inHand.id) ?? classifiers?.[0];
  if (!classifiers || !method) return null;
  return (
    <Part title="Method">
      <NativeSelect.Root size="sm" bg="card">
        <NativeSelect.Field
          aria-label="Method"
          value={method.id}
          onChange={(event) =>
            change({ method: { id: event.currentTarget.value, settings: {}, seed: inHand.seed } })
          }
        >
          {classifiers.map((one) => (
            <option key={one.id} value={one.id}>
              {one.title}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Text color="quiet" mt="1">
        {method.good_for}
      </Text>
      <Text mt="1.5">
        From <b>{scene.title}</b> go in{" "}
        <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
          {(close) => (
            <>
              <BandChoice scene={scene} roles={roles} />
              <AllDates onDone={close} />
            </>
          )}
        </Handle>
        , over{" "}
        <Handle text={place.now?.title ?? ""} label="Change where the map is made">
          {(close) => (
            <>
              {place.places.map(({ kind, title }) => (
                <Choice
                  key={kind}
                  title={title}
                  chosen={kind === place.now?.kind}
                  onChoose={() => {
                    place.setKind(kind);
                    close();
                  }}
                />
              ))}
              <WithinChoice within={place.within ?? null} onWithin={place.setWithin} />
              <Text color="quiet" mt="1">
                Areas are drawn, or read from a file, in Correct.
              </Text>
            </>
          )}
        </Handle>
        .
      </Text>
      <Folded title="Settings">
        <MethodSettings
          method={method}
          inHand={inHand}
          onChange={(next) => change({ method: next })}
        />
      </Folded>
      <LiveRounds />
      <Folded title={<>How sure{give.length > 0 && `: ${plural(give.length, "layer")}`}</>}>
        <Box mt="1.5">
          <SuretyChoice give={give} onGive={onGive} />
        </Box>
      </Folded>
    </Part>
  );
}
