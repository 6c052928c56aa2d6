import { Box, Flex, Grid, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useShares } from "../../api/queries/maps";
import type { ClassMap, Shares } from "../../api/types";
import { rowsToCsv } from "../../charts";
import { formatCount } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { saveFile } from "../../shared/saveFile";
import { Swatch } from "../../shared/Swatch";
import { RegionSelect } from "../RegionSelect";
import { TABS_HEIGHT_PX } from "../tabsHeight";
import { useRegion } from "../useRegion";

interface Props {
  readonly map: ClassMap;
  readonly choice: React.ReactNode;
}

/** What codes have instead of a histogram: the share of each class, as bars with numbers. */
export function ClassShares({ map, choice }: Props) {
  const region = useRegion();
  const { data, error } = useShares(map.id, region.order);
  const save = () => data && saveFile("shares.csv", csvOf(map, data));
  return (
    <Flex direction="column" flex="1" minH="0" position="relative">
      <Flex position="absolute" bottom="100%" right="3" lineHeight={`${TABS_HEIGHT_PX}px`}>
        <Quiet type="button" disabled={!data} onClick={save}>
          CSV
        </Quiet>
      </Flex>
      <Flex flex="1" minH="0" gap="4" role="tabpanel" aria-label="shares of classes">
        <Flex direction="column" width="178px" flex="none" ps="3" py="1" gap="1.5">
          {choice}
          <RegionSelect region={region} />
        </Flex>
        <Flex direction="column" flex="1" minW="0" pe="3">
          {error && <Text color="quiet">{sentenceOf(error)}</Text>}
          <Grid
            flex="1"
            minH="0"
            overflowY="auto"
            gridTemplateColumns="repeat(auto-fill, minmax(20rem, 1fr))"
            columnGap="6"
            alignContent="start"
            role="list"
            aria-label={`Shares of ${map.title} in ${region.words}`}
          >
            {data && <Bars map={map} shares={data} />}
          </Grid>
          <Text pb="1" color="quiet" truncate data-testid="chart-note">
            {data && noteOf(data, map)}
          </Text>
        </Flex>
      </Flex>
    </Flex>
  );
}

function Bars({ map, shares }: { readonly map: ClassMap; readonly shares: Shares }) {
  const most = Math.max(1, ...shares.classes.map(({ pixels }) => pixels));
  return shares.classes.map(({ code, pixels, percent }) => {
    const { name = "", colour = "" } = map.legend.find((one) => one.code === code) ?? {};
    return (
      <Flex key={code} role="listitem" gap="2" align="center" whiteSpace="nowrap">
        <Swatch colour={colour} />
        <Text width="7rem" flex="none" truncate title={name}>
          {name}
        </Text>
        <Box flex="1" minW="2rem" aria-hidden>
          <Box
            height="0.55rem"
            bg={colour}
            width={`${(100 * pixels) / most}%`}
            borderRadius="2px"
          />
        </Box>
        <Text width="3.4rem" textAlign="end">
          {percent.toFixed(1)} %
        </Text>
        <Text width="4.2rem" textAlign="end" color="quiet">
          {formatCount(pixels)}
        </Text>
      </Flex>
    );
  });
}

function noteOf({ n_valid, n_covered, exact }: Shares, { title }: ClassMap): string {
  const which = exact ? "every pixel" : "pixels spread over it";
  return `${formatCount(n_valid)} classified of ${formatCount(n_covered)} pixels of ${title} · ${which}`;
}

function csvOf(map: ClassMap, shares: Shares): string {
  const names = new Map(map.legend.map(({ code, name }) => [code, name]));
  return rowsToCsv([
    ["code", "class", "pixels", "percent"],
    ...shares.classes.map((row) => [row.code, names.get(row.code) ?? "", row.pixels, row.percent]),
  ]);
}
