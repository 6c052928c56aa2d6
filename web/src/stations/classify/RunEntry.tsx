import { Flex, Progress, Text } from "@chakra-ui/react";

import { useCancelRun } from "../../api/queries/runs";
import type { Run } from "../../api/types";
import { formatSeconds } from "../../shared/format";
import { Panel } from "../../shared/Panel";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";

export function RunEntry({ run }: { readonly run: Run }) {
  if (run.state === "failed") {
    return (
      <Remark tone="problem">
        {run.title} did not work. {run.problem}
      </Remark>
    );
  }
  if (run.state === "cancelled") {
    return <Remark tone="calm">{run.title} was cancelled. Nothing was written.</Remark>;
  }
  return <RunAtWork run={run} />;
}

function RunAtWork({ run }: { readonly run: Run }) {
  const cancel = useCancelRun(useStudyId());
  const left = run.seconds_left === null ? "" : `, about ${formatSeconds(run.seconds_left)} left`;
  const state =
    run.state === "waiting" ? "Waiting for its turn" : `${Math.round(run.percent)} %${left}`;
  return (
    <Panel>
      <Flex justify="space-between">
        <Text fontWeight="650">{run.title}</Text>
        <Quiet type="button" onClick={() => cancel.mutate(run.id)} disabled={cancel.isPending}>
          Cancel
        </Quiet>
      </Flex>
      <Progress.Root mt="1.5" size="xs" value={run.percent} aria-label={run.title}>
        <Progress.Track bg="bg.muted">
          <Progress.Range bg="cool" />
        </Progress.Track>
      </Progress.Root>
      <Text color="quiet" mt="1">
        {state}
      </Text>
    </Panel>
  );
}
