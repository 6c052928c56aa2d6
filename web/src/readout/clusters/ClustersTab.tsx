import { Box, chakra, Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import type { Cluster, LandClass } from "../../api/types";
import { rowsToCsv } from "../../charts";
import { formatPercent } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { saveFile } from "../../shared/saveFile";
import { useStudyId } from "../../shared/study";
import { Swatch } from "../../shared/Swatch";
import { useClusterInHand } from "../../shared/useClusters";
import { Chip } from "../../table";
import { MiniSpectrum } from "./MiniSpectrum";

const CHIP = 26;
const Pick = chakra("button", {
  base: { display: "block", width: "100%", textAlign: "start", cursor: "pointer" },
});

/** The clusters side by side: how much, what spectrum, where they are seen best, which class. */
export function ClustersTab() {
  const { map, all, cluster, pick } = useClusterInHand();
  const { data: classes = [] } = useClasses(useStudyId());
  if (!map) {
    return (
      <Text color="quiet" p="4">
        Cluster the whole scene, and each cluster stands here with its size, its spectrum and places
        where it is seen best.
      </Text>
    );
  }
  const most = Math.max(...all.flatMap((one) => one.mean));
  const csv = () =>
    rowsToCsv([
      ["cluster", "share", "class", ...map.roles.flatMap((r) => [`mean ${r}`, `deviation ${r}`])],
      ...all.map((one) => [
        one.name,
        one.share,
        classes.find(({ id }) => id === one.class_id)?.name ?? "",
        ...one.mean.flatMap((mean, i) => [mean, one.spread[i] ?? 0]),
      ]),
    ]);
  return (
    <Flex direction="column" flex="1" minH="0">
      <Flex
        role="tabpanel"
        aria-label="Clusters"
        tabIndex={0}
        flex="1"
        minH="0"
        overflowX="auto"
        gap="2"
        px="3"
        pt="1"
      >
        {all.map((one) => (
          <ClusterEntry
            key={one.code}
            one={one}
            most={most}
            inHand={one.code === cluster?.code}
            named={classes.find(({ id }) => id === one.class_id)}
            onPick={() => pick(one)}
          />
        ))}
      </Flex>
      <Flex px="3" pb="1" gap="4" color="quiet">
        <Text flex="1">
          {map.title}, means of {map.roles.join(", ")}
          {!map.exact && "; shares of the pixels looked at, exact once it is kept"}
        </Text>
        <Quiet type="button" onClick={() => saveFile("clusters.csv", csv())}>
          CSV
        </Quiet>
      </Flex>
    </Flex>
  );
}

interface EntryProps {
  readonly one: Cluster;
  readonly most: number;
  readonly inHand: boolean;
  readonly named: LandClass | undefined;
  readonly onPick: () => void;
}

function ClusterEntry({ one, most, inHand, named, onPick }: EntryProps) {
  const share = formatPercent(one.share, 1);
  return (
    <Box
      flex="none"
      width="104px"
      height="fit-content"
      px="1.5"
      py="1"
      bg={inHand ? "coolTint" : "card"}
      borderWidth={inHand ? "2px" : "1px"}
      borderColor={inHand ? "cool" : "line"}
      borderRadius="5px"
    >
      <Pick type="button" aria-pressed={inHand} onClick={onPick}>
        <Flex justify="space-between">
          <Text fontWeight="650">
            <chakra.span srOnly>Cluster </chakra.span>
            {one.name.replace("Cluster ", "")}
          </Text>
          <Text color="quiet">{share}</Text>
        </Flex>
        <chakra.span srOnly>{named?.name ?? "not yet named"}</chakra.span>
        <MiniSpectrum values={one.mean} most={most} />
      </Pick>
      <Flex gap="1" my="1" minH={`${CHIP}px`}>
        {one.places.map(({ x, y }, i) => (
          <Chip
            key={`${x} ${y}`}
            x={x}
            y={y}
            size={CHIP}
            label={`${one.name}, typical place ${i + 1}`}
          />
        ))}
      </Flex>
      {named ? (
        <Text truncate title={named.name}>
          <Swatch colour={named.colour} /> {named.name}
        </Text>
      ) : (
        <Text color="caution">not yet</Text>
      )}
    </Box>
  );
}
