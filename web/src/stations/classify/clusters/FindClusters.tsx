import { Box, Flex, Slider, Text } from "@chakra-ui/react";

import { useClusterings, useClusterScene } from "../../../api/queries/clusters";
import { useMaps } from "../../../api/queries/maps";
import type { Clustering, LiveClusters } from "../../../api/types";
import { BandChoice } from "../../../shared/BandChoice";
import { Card } from "../../../shared/Card";
import { isClusterMap } from "../../../shared/classMaps";
import { formatCount, formatPercent, plural } from "../../../shared/format";
import { Handle } from "../../../shared/Handle";
import { Part } from "../../../shared/Part";
import { Primary } from "../../../shared/Primary";
import { Quiet } from "../../../shared/Quiet";
import { Remark } from "../../../shared/Remark";
import { Select } from "../../../shared/Select";
import { useStudyId } from "../../../shared/study";
import { useClusterOrder, useLiveClusters } from "../../../shared/useClusters";
import { useCurrentScene } from "../../../shared/useCurrent";
import { useView, useViewStore } from "../../../shared/viewStore";
import { useWork } from "../../../shared/workStore";
import { ByChoice } from "../ByChoice";
import { MethodSettings } from "../MethodSettings";
import { RunList } from "../RunList";
import { Folded } from "../../../shared/Folded";

/** How the pixels group themselves, seen in the right pane before the scene is clustered. */
export function FindClusters() {
  const studyId = useStudyId();
  const order = useClusterOrder();
  const start = useClusterScene(studyId);
  const { data: found } = useLiveClusters(true);
  const { clustering } = useView("clustering");
  const change = useViewStore((store) => store.change);
  const { data: methods = [] } = useClusterings();
  const method = methods.find(({ id }) => id === clustering.id);
  return (
    <Card
      title="Classify"
      purpose="Clusters: the pixels group themselves, you give the names."
      action={
        <Primary
          onClick={() => start.mutate(order)}
          loading={start.isPending}
          disabled={!found || found.problem !== null}
        >
          Cluster the whole scene
        </Primary>
      }
    >
      <ByChoice />
      <RunList />
      <Part title="Method">
        <Select
          label="Method"
          hideLabel
          value={clustering.id}
          options={methods.map(({ id, title }) => ({ value: id, label: title }))}
          onValue={(id) => change({ clustering: { id, settings: {}, seed: clustering.seed } })}
        />
        <Text color="quiet" mt="1">
          {method?.good_for}
        </Text>
        <Inputs />
        {method?.counted && <CountSlider method={method} />}
        {method && (
          <Folded title="Settings">
            <MethodSettings
              method={method}
              inHand={clustering}
              onChange={(next) => change({ clustering: next })}
            />
          </Folded>
        )}
      </Part>
      <FoundPart found={found} />
    </Card>
  );
}

function Inputs() {
  const scene = useCurrentScene();
  const { roles } = useView("roles");
  return (
    <Text mt="1.5">
      From <b>{scene.title}</b> go in{" "}
      <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
        {() => <BandChoice scene={scene} roles={roles} />}
      </Handle>
      .
    </Text>
  );
}

const MOST = 30;
const USUAL = 8;

function CountSlider({ method }: { readonly method: Clustering }) {
  const { clustering } = useView("clustering");
  const change = useViewStore((store) => store.change);
  const { properties } = method.settings_schema as {
    properties: Record<string, { title: string }>;
  };
  const label = properties["n_clusters"]?.title ?? "Clusters";
  const n = Number(clustering.settings["n_clusters"] ?? USUAL);
  const choose = (next: number) =>
    change({
      clustering: { ...clustering, settings: { ...clustering.settings, n_clusters: next } },
    });
  return (
    <Flex mt="2" gap="2" align="center">
      <Text>{label}</Text>
      <Slider.Root
        flex="1"
        size="sm"
        min={2}
        max={MOST}
        step={1}
        value={[Math.min(n, MOST)]}
        aria-label={[label]}
        onValueChange={({ value: [next = USUAL] }) => choose(next)}
      >
        <Slider.Control>
          <Slider.Track bg="line">
            <Slider.Range bg="cool" />
          </Slider.Track>
          <Slider.Thumbs />
        </Slider.Control>
      </Slider.Root>
      <Text width="1.6rem" textAlign="end">
        {n}
      </Text>
    </Flex>
  );
}

function FoundPart({ found }: { readonly found: LiveClusters | undefined }) {
  const change = useViewStore((store) => store.change);
  const set = useWork((store) => store.set);
  const { data: maps = [] } = useMaps(useStudyId());
  if (!found) return null;
  if (found.problem !== null) return <Remark tone="caution">{found.problem}</Remark>;
  const of = found.exact ? "" : " read of the scene";
  return (
    <Part title="Found" aside={plural(found.clusters.length, "cluster")}>
      <Flex height="14px" borderRadius="3px" overflow="hidden" aria-hidden>
        {found.clusters.map(({ code, colour, share }) => (
          <Box key={code} style={{ width: `${100 * share}%`, backgroundColor: colour }} />
        ))}
      </Flex>
      <Text color="quiet" mt="1">
        {sizesWords(found)} On {formatCount(found.n_sampled)} pixels of{" "}
        {formatCount(found.n_usable)}
        {of}; {found.rounds.at(-1)}.
      </Text>
      {found.rounds.length > 1 && <Rounds rounds={found.rounds} />}
      <Flex mt="1.5" gap="4" wrap="wrap">
        <Quiet
          type="button"
          minH="24px"
          onClick={() => change({ tab: "how-many", readoutFolded: false })}
        >
          How many?
        </Quiet>
        {maps.some(isClusterMap) && (
          <Quiet type="button" minH="24px" onClick={() => set({ clusterMap: null })}>
            To the kept clusters
          </Quiet>
        )}
      </Flex>
    </Part>
  );
}

function sizesWords({ clusters }: LiveClusters): string {
  const [first] = clusters;
  const last = clusters.at(-1);
  if (!first || !last) return "";
  return `From ${formatPercent(first.share, 0)} to ${formatPercent(last.share, 1)} each.`;
}

function Rounds({ rounds }: { readonly rounds: readonly string[] }) {
  return (
    <Folded title="Round by round">
      {rounds.map((round, i) => (
        <Text key={i} color="quiet">
          {round}
        </Text>
      ))}
    </Folded>
  );
}
