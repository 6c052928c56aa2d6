import { Flex } from "@chakra-ui/react";

import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useUnsavedSites } from "../../shared/unsavedStore";
import { useSaveSite } from "../../shared/useSaveSite";

/** Outlines that the server did not take: why, and the way to try again. */
export function UnsavedSites() {
  const studyId = useStudyId();
  const { sites, remove } = useUnsavedSites();
  const save = useSaveSite();
  const failed = sites.filter((site) => site.studyId === studyId && site.problem !== null);
  const [first] = failed;
  if (!first) return null;
  return (
    <Remark tone="problem">
      {plural(failed.length, "outline is", "outlines are")} kept in this browser only.{" "}
      {first.problem}
      <Flex gap="3" mt="1">
        <Quiet type="button" onClick={() => failed.forEach((site) => void save(site))}>
          Try again
        </Quiet>
        <Quiet type="button" onClick={() => failed.forEach((site) => remove(site.key))}>
          Discard
        </Quiet>
      </Flex>
    </Remark>
  );
}
