import { Flex, Text } from "@chakra-ui/react";

import { useScenes } from "../../api/queries/scenes";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";
import { changedIds, type There } from "./there";

interface Props {
  readonly there: readonly There[];
  readonly onOthers: (ids: readonly number[]) => void;
  readonly onMarkChanged: (there: There) => void;
}

/** The same sites in other scenes: where grids differ, and how many seem to have changed. */
export function OtherDate({ there, onOthers, onMarkChanged }: Props) {
  const { sceneId, roles } = useView("sceneId", "roles");
  const { data: scenes = [] } = useScenes(useStudyId());
  const chosen = there.map((one) => one.sceneId);
  const left = scenes.filter(
    ({ id, bands }) =>
      id !== sceneId &&
      !chosen.includes(id) &&
      roles.every((role) => bands.some((band) => band.role === role)),
  );
  return (
    <>
      {left.length > 0 && (
        <Select
          label="Compare with another scene"
          hideLabel
          value=""
          options={[
            { value: "", label: chosen.length > 0 ? "And on another …" : "On this date only" },
            ...left.map(({ id, title }) => ({ value: String(id), label: `And on ${title}` })),
            ...(left.length > 1 ? [{ value: "all", label: `And on all ${left.length}` }] : []),
          ]}
          onValue={(value) =>
            onOthers([...chosen, ...(value === "all" ? left.map(({ id }) => id) : [Number(value)])])
          }
        />
      )}
      {there.map((one) => (
        <InOtherScene
          key={one.sceneId}
          there={one}
          onLeave={() => onOthers(chosen.filter((id) => id !== one.sceneId))}
          onMark={() => onMarkChanged(one)}
        />
      ))}
    </>
  );
}

interface InOtherSceneProps {
  readonly there: There;
  readonly onLeave: () => void;
  readonly onMark: () => void;
}

function InOtherScene({ there, onLeave, onMark }: InOtherSceneProps) {
  const { title, carried, problem } = there;
  const changed = changedIds(there).length;
  return (
    <Flex as="section" direction="column" aria-label={`On ${title}`}>
      <Flex justify="space-between" align="baseline" gap="2">
        <Text fontWeight="600" truncate title={title}>
          {title}
        </Text>
        <Quiet type="button" aria-label={`Leave out ${title}`} onClick={onLeave}>
          Leave out
        </Quiet>
      </Flex>
      {problem !== null && <Text color="caution">{problem}</Text>}
      {carried?.grids.map((sentence) => (
        <Text key={sentence} color="caution" lineHeight="1.3">
          {sentence}
        </Text>
      ))}
      {carried && (
        <Text lineHeight="1.3">
          {plural(changed, "site seems", "sites seem")} changed.{" "}
          {changed > 0 && (
            <Quiet type="button" aria-label={`Mark them, changed on ${title}`} onClick={onMark}>
              Mark them
            </Quiet>
          )}
        </Text>
      )}
    </Flex>
  );
}
