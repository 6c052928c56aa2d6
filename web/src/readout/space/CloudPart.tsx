import { Box, Flex, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useCloud } from "../../api/queries/look";
import { useClasses } from "../../api/queries/training";
import type { CloudCount, CloudOrder } from "../../api/types";
import { cloudText } from "../../shared/cloud";
import { DataTable } from "../../shared/DataTable";
import { formatHectares, formatPercent, plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Swatch } from "../../shared/Swatch";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { type Cloud, useWork } from "../../shared/workStore";
import type { useRegion } from "../useRegion";
import { MaskActs, SiteActs } from "./CloudActs";

interface Props {
  readonly cloud: Cloud;
  readonly region: ReturnType<typeof useRegion>;
}

/** What lies in the circled cloud, and what can be made of it. */
export function CloudPart({ cloud, region }: Props) {
  const set = useWork((store) => store.set);
  const { data: training } = useCurrentTraining();
  const order: CloudOrder = {
    x: cloud.x,
    y: cloud.y,
    cloud: cloudText(cloud.corners),
    live: training?.live.version ?? null,
    ...region.order,
  };
  const { data: count, error } = useCloud(useStudyId(), order);
  return (
    <Box
      as="section"
      aria-label="The circled cloud"
      flex="none"
      width="17rem"
      pe="3"
      py="1"
      overflowY="auto"
      tabIndex={0}
    >
      <Flex justify="space-between" gap="2">
        <Text fontWeight="650">The circled cloud</Text>
        <Quiet type="button" onClick={() => set({ cloud: null })}>
          Put the light out
        </Quiet>
      </Flex>
      {error && <Text role="alert">{sentenceOf(error)}</Text>}
      {count && <CloudNumbers count={count} words={region.words} />}
      {count && count.n_inside > 0 && (
        <>
          <MaskActs cloud={cloud} corners={order.cloud} />
          <SiteActs key={order.cloud} order={order} likely={mostOf(count)} />
          <CloudClasses count={count} />
        </>
      )}
    </Box>
  );
}

interface NumbersProps {
  readonly count: CloudCount;
  readonly words: string;
}

function CloudNumbers({ count, words }: NumbersProps) {
  const { n_inside, n_valid, area_ha, exact } = count;
  const share = n_valid > 0 ? n_inside / n_valid : null;
  return (
    <Text data-testid="cloud-count">
      {exact ? plural(n_inside, "pixel") : `${plural(n_inside, "pixel")} of those looked at`} ·{" "}
      {formatPercent(share)} of {words} · {exact ? "" : "about "}
      {formatHectares(area_ha)} ha
    </Text>
  );
}

/** What the live map calls the cloud's pixels, and how much of each class's sites it holds. */
function CloudClasses({ count }: { readonly count: CloudCount }) {
  const { data: classes = [] } = useClasses(useStudyId());
  const rows = count.classes.filter((row) => (row.of_cloud ?? 0) + (row.of_training ?? 0) > 0);
  if (rows.length === 0) return null;
  return (
    <DataTable
      label="Classes in the cloud"
      columns={[
        { head: "Class" },
        { head: "of cloud", end: true },
        { head: "of sites", end: true },
      ]}
      rows={rows.map((row) => {
        const known = classes.find((one) => one.code === row.code);
        return {
          key: row.code,
          cells: [
            <Flex key="class" gap="1.5" align="center">
              {known && <Swatch colour={known.colour} />}
              {known?.name ?? "unclassified"}
            </Flex>,
            formatPercent(row.of_cloud, 0),
            formatPercent(row.of_training, 0),
          ],
        };
      })}
    />
  );
}

/** The class that most of the cloud is, by the live map. */
function mostOf({ classes }: CloudCount): number | undefined {
  const said = classes.filter(({ of_cloud }) => of_cloud !== null);
  return said.sort((a, b) => (b.of_cloud ?? 0) - (a.of_cloud ?? 0))[0]?.code;
}
