import { Button, Flex, Text } from "@chakra-ui/react";

import { useCancelRun, useTrial } from "../../api/queries/runs";
import type { Run } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useOrder } from "../../shared/useCurrent";
import { isAtWork } from "./trialRows";

interface Props {
  readonly what: "methods" | "layers";
  /** The newest of its kind. */
  readonly run: Run | undefined;
  /** What the button says before anything was tried. */
  readonly label: string;
}

/** Start a run that tells a table, see how far it is, end it. */
export function Trial({ what, run, label }: Props) {
  const studyId = useStudyId();
  const order = useOrder();
  const trial = useTrial(studyId, what);
  const cancel = useCancelRun(studyId);
  if (run && isAtWork(run)) {
    return (
      <Flex gap="4" align="baseline">
        <Text fontWeight="650">{run.title}</Text>
        <Text color="quiet">
          {run.state === "waiting" ? "Waiting for its turn" : `${Math.round(run.percent)} %`}
        </Text>
        <Quiet type="button" disabled={cancel.isPending} onClick={() => cancel.mutate(run.id)}>
          Cancel
        </Quiet>
      </Flex>
    );
  }
  return (
    <>
      <Button
        size="sm"
        variant="outline"
        bg="card"
        loading={trial.isPending}
        onClick={() => trial.mutate(order)}
      >
        {run ? "Try them again" : label}
      </Button>
      {run?.state === "failed" && <Remark tone="problem">{run.problem}</Remark>}
      {run?.state === "cancelled" && (
        <Text color="quiet" mt="2">
          The last one was cancelled.
        </Text>
      )}
    </>
  );
}
