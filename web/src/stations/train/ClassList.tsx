import { Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useActiveClass } from "../../shared/usePick";
import { useWork } from "../../shared/workStore";
import { AddClass } from "./AddClass";
import { ClassRow } from "./ClassRow";

/** The class scheme with what each class has been given so far. */
export function ClassList() {
  const { data: classes = [], isPending } = useClasses(useStudyId());
  const { data: training } = useCurrentTraining();
  const active = useActiveClass();
  const set = useWork((store) => store.set);
  return (
    <Part
      title="Classes"
      aside={
        <>
          <Quiet type="button" me="3" onClick={() => set({ sheet: { kind: "scheme" } })}>
            Scheme
          </Quiet>
          sites · pixels
        </>
      }
    >
      {!isPending && classes.length === 0 && (
        <Text color="quiet">No class yet. Name the first cover you want to map.</Text>
      )}
      <Flex direction="column" role="list">
        {classes.map((row, i) => (
          <ClassRow
            key={row.id}
            row={row}
            hotkey={i < 9 ? String(i + 1) : ""}
            active={row.id === active?.id}
            training={training?.classes.find((c) => c.code === row.code)}
            usualMinimum={training?.usual_minimum ?? null}
            onPick={() => set({ classId: row.id })}
          />
        ))}
      </Flex>
      <AddClass />
    </Part>
  );
}
