import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useClasses } from "../../api/queries/training";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useCurrentTraining } from "../../shared/useCurrent";
import { PairPart } from "./PairPart";
import { type Measure, PairTriangle } from "./PairTriangle";
import { StatisticsPart } from "./StatisticsPart";
import { ControlColumn } from "../ControlColumn";

const MEASURES: { value: Measure; label: string }[] = [
  { value: "jeffries_matusita", label: "Jeffries-Matusita" },
  { value: "transformed_divergence", label: "Transformed divergence" },
  { value: "bhattacharyya", label: "Bhattacharyya" },
];

/** How far every two classes are apart, and what their pixels are like. */
export function ClassesTab() {
  const [withPairs, setWithPairs] = useState(true);
  const [measure, setMeasure] = useState<Measure>("jeffries_matusita");
  const [chosen, setChosen] = useState<readonly [number, number] | null>(null);
  const { data: training } = useCurrentTraining();
  const { data: classes = [] } = useClasses(useStudyId());
  const pairs = training?.pairs ?? [];
  const [worst] = pairs;
  const codes = chosen ?? (worst ? ([worst.code, worst.other_code] as const) : null);
  const pair = pairs.find((p) => p.code === codes?.[0] && p.other_code === codes[1]);
  return (
    <Flex flex="1" minH="0" role="tabpanel" aria-label="Classes">
      <ControlColumn>
        <Flex gap="1">
          <Toggle label="Pairs" on={withPairs} onClick={() => setWithPairs(true)} />
          <Toggle label="Statistics" on={!withPairs} onClick={() => setWithPairs(false)} />
        </Flex>
        {withPairs && (
          <>
            <Select
              label="Measure"
              hideLabel
              value={measure}
              options={MEASURES}
              onValue={(value) => setMeasure(value as Measure)}
            />
            <Text color="quiet" lineHeight="1.3">
              Corrected for what two samples of one class show by chance.{" "}
              {measure === "bhattacharyya"
                ? "0 is the same; no upper bound."
                : "0 to 2; 1.9 is good."}
            </Text>
          </>
        )}
      </ControlColumn>
      {withPairs ? (
        pairs.length > 0 ? (
          <Flex flex="1" minW="0" gap="4" pe="3" overflow="auto">
            <PairTriangle
              pairs={pairs}
              classes={classes}
              measure={measure}
              chosen={codes}
              onChoose={setChosen}
            />
            {pair && <PairPart pair={pair} classes={classes} training={training} />}
          </Flex>
        ) : (
          <Text color="quiet" p="4">
            Two classes with enough pixels are needed to compare them.
          </Text>
        )
      ) : (
        <StatisticsPart classes={classes} />
      )}
    </Flex>
  );
}
