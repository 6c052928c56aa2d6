import { Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useCorrectLayers } from "../../api/queries/corrections";
import { useScenes } from "../../api/queries/scenes";
import { useTidyings } from "../../api/queries/tidy";
import type { ClassMap } from "../../api/types";
import { StepForms } from "../../forms/StepForms";
import { FormSubject } from "../../forms/subject";
import { Card } from "../../shared/Card";
import { KeepAct } from "../../shared/KeepAct";
import { Part } from "../../shared/Part";
import { Primary } from "../../shared/Primary";
import { Remark } from "../../shared/Remark";
import { inOrder } from "../../shared/sceneOrder";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useView, useViewStore } from "../../shared/viewStore";
import { AlsoFor } from "./AlsoFor";
import { Changes } from "./Changes";
import { SavedChains } from "./SavedChains";
import { useTidyChain } from "./tidyStore";
import { type Chain, useChainFor } from "./useChainFor";
import { useMapToTidy } from "./useMapToTidy";

const PURPOSE = "A map that can be drawn, with nothing done in secret.";

/** Steps on a class map, seen in the right pane before anything is kept. */
export function TidyCard() {
  const { maps, map, choose } = useMapToTidy();
  if (map) return <TidyMap maps={maps} map={map} onChoose={choose} />;
  return (
    <Card title="Tidy" purpose={PURPOSE}>
      <Text color="quiet" mt="3">
        There is no class map yet. Make one in Classify; it can be smoothed, sieved, filled and
        recoded here.
      </Text>
    </Card>
  );
}

interface MapProps {
  readonly maps: readonly ClassMap[];
  /** The one that is tidied. */
  readonly map: ClassMap;
  readonly onChoose: (layerId: number) => void;
}

function TidyMap({ maps, map, onChoose }: MapProps) {
  const [also, setAlso] = useState<readonly number[]>([]);
  const chain = useChainFor(map);
  const made = <MakeIt map={map} chain={chain} also={also} onMade={onChoose} />;
  return (
    <Card title="Tidy" purpose={PURPOSE} action={made}>
      <Part title="Map">
        <Select
          label="Class map"
          hideLabel
          value={String(map.id)}
          options={maps.map(({ id, title }) => ({ value: String(id), label: title }))}
          onValue={(id) => onChoose(Number(id))}
        />
        {!map.kept && (
          <Text mt="1" color="quiet">
            Not kept as a file yet. <KeepAct layer={map} />
          </Text>
        )}
      </Part>
      <Steps map={map} chain={chain} />
      <AlsoFor maps={maps.filter(({ id }) => id !== map.id)} also={also} onAlso={setAlso} />
    </Card>
  );
}

function Steps({ map, chain }: { readonly map: ClassMap; readonly chain: Chain }) {
  const { data: tidyings = [] } = useTidyings();
  const { data: scenes = [] } = useScenes(useStudyId());
  const { steps, madeFor, setMadeFor, add, change, remove, take } = useTidyChain();
  const { orders, found, canBeDone, problem } = chain;
  usePreview(map.id, canBeDone || steps.length === 0 ? JSON.stringify(orders) : null);
  return (
    <>
      {problem && <Remark tone="problem">{problem}</Remark>}
      {steps.length > 0 && found && <Changes found={found} />}
      <Part title="Steps">
        {steps.length === 0 && (
          <Text color="quiet">
            No step yet. Steps are done one after the other, and shown on the right before anything
            is kept.
          </Text>
        )}
        <FormSubject value={{ scenes: inOrder(scenes), chosen: [], map }}>
          <StepForms
            operations={tidyings}
            offered={tidyings}
            steps={steps}
            withoutForms={problem !== null}
            onAdd={add}
            onChange={change}
            onRemove={remove}
          />
          <SavedChains
            steps={orders}
            classes={madeFor.classes}
            onChoose={(saved, classes) => {
              setMadeFor({ layerId: null, classes });
              take(saved);
            }}
          />
        </FormSubject>
      </Part>
    </>
  );
}

/** The right pane shows the map with the steps done to it, and the map itself without any; what it
 * shows stays while they cannot be done (null). */
function usePreview(layerId: number, steps: string | null) {
  useEffect(() => {
    if (steps === null) return;
    const { view, setPane } = useViewStore.getState();
    const now = view?.panes[1];
    const lit = now?.kind === "tidied" && now.lit ? { lit: true as const } : {};
    if (steps !== "[]") setPane(1, { kind: "tidied", layerId, steps, ...lit });
    else if (now?.kind === "tidied") setPane(1, { kind: "map", layerId });
  }, [layerId, steps]);
}

interface MakeProps {
  readonly map: ClassMap;
  readonly chain: Chain;
  /** Other maps to which the same is done. */
  readonly also: readonly number[];
  readonly onMade: (layerId: number) => void;
}

/** The tidied map as a layer beside the one that it was made of. */
function MakeIt({ map, chain, also, onMade }: MakeProps) {
  const correct = useCorrectLayers(useStudyId());
  const { panes } = useView("panes");
  const setPane = useViewStore((store) => store.setPane);
  const { steps, clear } = useTidyChain();
  const make = () =>
    correct.mutate(
      { layer_ids: [map.id, ...also.filter((id) => id !== map.id)], steps: [...chain.orders] },
      {
        onSuccess: ({ maps: made }) => {
          const [after] = made;
          if (!after) return;
          clear();
          if (panes[0].kind !== "scene") setPane(0, { kind: "map", layerId: map.id });
          onMade(after.id);
        },
      },
    );
  return (
    <>
      {correct.error && <Remark tone="problem">{sentenceOf(correct.error)}</Remark>}
      {correct.data?.problems.map(({ layer_id, title, sentence }) => (
        <Remark key={layer_id} tone="problem">
          {title}: {sentence}
        </Remark>
      ))}
      <Primary
        onClick={make}
        loading={correct.isPending}
        disabled={steps.length === 0 || chain.found?.problem !== null}
      >
        {also.length > 0 ? `Tidy ${also.length + 1} maps` : "Make the tidied map"}
      </Primary>
    </>
  );
}
