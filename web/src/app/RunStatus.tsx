import { Flex, ProgressCircle, Text } from "@chakra-ui/react";

import { useRuns } from "../api/queries/runs";
import { formatSeconds } from "../shared/format";
import { useStudyId } from "../shared/study";

/** The run at work with its percentage, wherever one is. */
export function RunStatus() {
  const { data: runs = [] } = useRuns(useStudyId());
  const run = runs.find((r) => r.state === "running") ?? runs.find((r) => r.state === "waiting");
  if (!run) return null;
  const left = run.seconds_left === null ? "" : `, ${formatSeconds(run.seconds_left)} left`;
  const text =
    run.state === "waiting" ? "waiting for its turn" : `${Math.round(run.percent)} %${left}`;
  return (
    <Flex align="center" gap="2" role="status">
      <ProgressCircle.Root size="xs" value={run.percent}>
        <ProgressCircle.Circle>
          <ProgressCircle.Track />
          <ProgressCircle.Range stroke="cool" />
        </ProgressCircle.Circle>
      </ProgressCircle.Root>
      <Text truncate>
        {run.title} · {text}
      </Text>
    </Flex>
  );
}
