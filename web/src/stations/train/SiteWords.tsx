import { Flex, Input } from "@chakra-ui/react";

import { useUpdateSite } from "../../api/queries/edits";
import type { Site } from "../../api/types";
import { formatDate } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useCurrentScene } from "../../shared/useCurrent";

interface Props {
  readonly site: Site;
  readonly number: number;
}

/** What is said of a site: a note, and whether it is that class on one date only. */
export function SiteWords({ site, number }: Props) {
  const scene = useCurrentScene();
  const update = useUpdateSite(useStudyId(), scene.id);
  const { id } = site; // each of both stands for itself: neither waits for the other's answer
  const day = site.true_on ?? scene.acquired;
  return (
    <Flex gap="2" px="1" pb="1.5" align="center">
      <Input
        key={site.note}
        size="xs"
        bg="card"
        flex="1"
        minW="0"
        aria-label={`Note on site ${number}`}
        placeholder="Note"
        maxLength={400}
        defaultValue={site.note}
        onBlur={({ currentTarget }) => {
          const note = currentTarget.value.trim();
          if (note !== site.note) update.mutate({ id, note });
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
        }}
      />
      {day !== null && (
        <Toggle
          label={`${formatDate(day)} only`}
          title="Ground that is this class on one date only takes no part on others"
          on={site.true_on !== null}
          onClick={() => update.mutate({ id, true_on: site.true_on === null ? day : null })}
        />
      )}
    </Flex>
  );
}
