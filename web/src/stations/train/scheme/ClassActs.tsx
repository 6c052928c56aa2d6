import { Flex } from "@chakra-ui/react";

import { useDeleteClass } from "../../../api/queries/edits";
import { useMergeClass, useSplitClass } from "../../../api/queries/scheme";
import type { LandClass } from "../../../api/types";
import { plural } from "../../../shared/format";
import { tellNews } from "../../../shared/notices";
import { OnDemandPopover } from "../../../shared/OnDemandPopover";
import { Quiet } from "../../../shared/Quiet";
import { Select } from "../../../shared/Select";
import { useStudyId } from "../../../shared/study";
import { useView } from "../../../shared/viewStore";

interface Props {
  readonly row: LandClass;
  readonly classes: readonly LandClass[];
  readonly nSites: number;
}

/** Two classes into one, one into two, and out with one. */
export function ClassActs({ row, classes, nSites }: Props) {
  const studyId = useStudyId();
  const { sceneId, roles } = useView("sceneId", "roles");
  const merge = useMergeClass(studyId);
  const split = useSplitClass(studyId);
  const remove = useDeleteClass(studyId);
  const others = classes.filter(({ id }) => id !== row.id);
  const mergeInto = (intoId: number) =>
    merge.mutate(
      { id: row.id, intoId },
      { onSuccess: (kept) => tellNews(`${row.name} is part of ${kept.name} now.`) },
    );
  const splitIt = () =>
    split.mutate(
      { id: row.id, sceneId, roles },
      { onSuccess: (made) => tellNews(`The second kind of ${row.name} is ${made.name} now.`) },
    );
  const deleteIt = () =>
    remove.mutate(row.id, {
      onSuccess: () =>
        tellNews(`${row.name} and ${plural(nSites, "site")} deleted. Undo brings them back.`),
    });
  return (
    <Flex width="9rem" flex="none" gap="2.5" justify="flex-end">
      {others.length > 0 && (
        <OnDemandPopover
          button={
            <Quiet type="button" aria-label={`Merge ${row.name} into another class`}>
              Merge
            </Quiet>
          }
          placement="bottom-end"
          width="15rem"
        >
          {(close) => (
            <Select
              label={`Merge ${row.name} into`}
              value=""
              options={[
                { value: "", label: "Choose a class" },
                ...others.map(({ id, name }) => ({ value: String(id), label: name })),
              ]}
              onValue={(value) => {
                if (value === "") return;
                close();
                mergeInto(Number(value));
              }}
            />
          )}
        </OnDemandPopover>
      )}
      <Quiet
        type="button"
        disabled={split.isPending || nSites === 0}
        title="Give the sites that look like a second kind to a new class"
        aria-label={`Split ${row.name} in two`}
        onClick={splitIt}
      >
        Split
      </Quiet>
      <Quiet
        type="button"
        disabled={remove.isPending}
        aria-label={`Delete ${row.name} and ${plural(nSites, "site")}`}
        onClick={deleteIt}
      >
        Delete
      </Quiet>
    </Flex>
  );
}
