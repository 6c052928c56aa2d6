import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useClassStatistics } from "../../api/queries/judging";
import type { LandClass, GroupStatistics } from "../../api/types";
import { rowsToCsv } from "../../charts";
import { DataTable } from "../../shared/DataTable";
import { formatCount, formatValue } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { saveFile } from "../../shared/saveFile";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useActiveClass } from "../../shared/usePick";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { MatrixTable } from "./MatrixTable";

type Kind = "bands" | "covariance" | "correlation";

const KINDS: { value: Kind; label: string }[] = [
  { value: "bands", label: "Per band" },
  { value: "correlation", label: "Correlation" },
  { value: "covariance", label: "Covariance" },
];

/** Statistics of the class in hand and a second one, or of the chosen site. */
export function StatisticsPart({ classes }: { readonly classes: readonly LandClass[] }) {
  const view = useView("sceneId", "roles");
  const studyId = useStudyId();
  const active = useActiveClass();
  const siteKey = useWork((store) => store.siteKey);
  const [kind, setKind] = useState<Kind>("bands");
  const [other, setOther] = useState("");
  const { data, error } = useClassStatistics(studyId, view, null);
  const siteId = Number(siteKey);
  const ofSite = useClassStatistics(studyId, view, siteId > 0 ? siteId : null);
  if (error) return <Text p="4">{sentenceOf(error)}</Text>;
  const find = (code: number) => data?.groups.find((group) => group.code === code);
  const name = (code: number) => classes.find((row) => row.code === code)?.name ?? "";
  const site = siteId > 0 && other === "site" ? ofSite.data?.groups[0] : undefined;
  const shown: [string, GroupStatistics | undefined][] = [
    [active?.name ?? "", active ? find(active.code) : undefined],
    site
      ? [`The chosen site (${name(site.code)})`, site]
      : [name(Number(other)), find(Number(other))],
  ];
  const known = shown.filter((one): one is [string, GroupStatistics] => one[1] !== undefined);
  const options = [
    { value: "", label: "beside nothing" },
    ...(siteId > 0 ? [{ value: "site", label: "beside the chosen site" }] : []),
    ...classes
      .filter((row) => row.id !== active?.id)
      .map((row) => ({ value: String(row.code), label: `beside ${row.name}` })),
  ];
  return (
    <Flex direction="column" flex="1" minW="0" pe="3" overflow="auto">
      <Flex gap="2" align="center" py="1">
        <Select
          label="What is shown"
          hideLabel
          value={kind}
          options={KINDS}
          onValue={(value) => setKind(value as Kind)}
        />
        <Select label="Second class" hideLabel value={other} options={options} onValue={setOther} />
        <Quiet
          type="button"
          disabled={!data}
          onClick={() => data && saveFile("class-statistics.csv", toCsv(data, name))}
        >
          CSV of all classes
        </Quiet>
      </Flex>
      <Flex gap="5">
        {known.length === 0 && <Text color="quiet">The class in hand has no pixel yet.</Text>}
        {known.map(([title, group]) => (
          <Box key={title}>
            <Text fontWeight="650">
              {title}
              <chakra.span color="quiet" fontWeight="400">
                {" "}
                · {formatCount(group.n_pixels)} pixels
              </chakra.span>
            </Text>
            {kind === "bands" ? (
              <BandTable roles={data?.roles ?? []} group={group} title={title} />
            ) : (
              <MatrixTable
                roles={data?.roles ?? []}
                matrix={group[kind]}
                label={`${kind} of ${title}`}
                isCorrelation={kind === "correlation"}
              />
            )}
          </Box>
        ))}
      </Flex>
    </Flex>
  );
}

interface BandProps {
  readonly roles: readonly string[];
  readonly group: GroupStatistics;
  readonly title: string;
}

function BandTable({ roles, group, title }: BandProps) {
  return (
    <DataTable
      label={`Statistics of ${title}`}
      columns={[
        { head: "Band" },
        { head: "mean", end: true },
        { head: "s.d.", end: true },
        { head: "least", end: true },
        { head: "most", end: true },
      ]}
      rows={roles.map((role, i) => ({
        key: role,
        cells: [
          role,
          formatValue(group.mean[i] ?? null),
          formatValue(group.standard_deviation[i] ?? null),
          formatValue(group.minimum[i] ?? null),
          formatValue(group.maximum[i] ?? null),
        ],
      }))}
    />
  );
}

function toCsv(
  { roles, groups }: { roles: string[]; groups: GroupStatistics[] },
  name: (code: number) => string,
): string {
  const pairs = roles.flatMap((a, i) => roles.slice(i).map((b, j) => [a, b, i, i + j] as const));
  const head = ["class", "band", "pixels", "mean", "s.d.", "least", "most"];
  const bands = groups.flatMap((g) =>
    roles.map((role, i) => [
      name(g.code),
      role,
      g.n_pixels,
      g.mean[i] ?? "",
      g.standard_deviation[i] ?? "",
      g.minimum[i] ?? "",
      g.maximum[i] ?? "",
    ]),
  );
  const matrices = groups.flatMap((g) =>
    pairs.map(([a, b, i, j]) => [
      name(g.code),
      a,
      b,
      g.covariance[i]?.[j] ?? "",
      g.correlation[i]?.[j] ?? "",
    ]),
  );
  const second = ["class", "band", "other band", "covariance", "correlation"];
  return rowsToCsv([head, ...bands, second, ...matrices]);
}
