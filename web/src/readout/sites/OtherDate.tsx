import { Text } from "@chakra-ui/react";

import { useScenes } from "../../api/queries/scenes";
import type { Carried } from "../../api/types";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";

interface Props {
  readonly otherId: number | null;
  readonly carried: Carried | undefined;
  readonly problem: string | null;
  readonly onOther: (id: number | null) => void;
  readonly onMarkChanged: () => void;
}

/** The same sites in another scene: where grids differ, and how many seem to have changed. */
export function OtherDate({ otherId, carried, problem, onOther, onMarkChanged }: Props) {
  const { sceneId, roles } = useView();
  const { data: scenes = [] } = useScenes(useStudyId());
  const others = scenes.filter(
    ({ id, bands }) =>
      id !== sceneId && roles.every((role) => bands.some((band) => band.role === role)),
  );
  if (others.length === 0) return null;
  const changed = carried?.sites.filter((one) => one.changed).length ?? 0;
  return (
    <>
      <Select
        label="Compare with another scene"
        hideLabel
        value={String(otherId ?? "")}
        options={[
          { value: "", label: "On this date only" },
          ...others.map(({ id, title }) => ({ value: String(id), label: `And on ${title}` })),
        ]}
        onValue={(value) => onOther(value === "" ? null : Number(value))}
      />
      {problem !== null && <Text color="caution">{problem}</Text>}
      {carried?.grids.map((sentence) => (
        <Text key={sentence} color="caution" lineHeight="1.3">
          {sentence}
        </Text>
      ))}
      {carried && (
        <Text lineHeight="1.3">
          {plural(changed, "site seems", "sites seem")} changed there.{" "}
          {changed > 0 && (
            <Quiet type="button" onClick={onMarkChanged}>
              Mark them
            </Quiet>
          )}
        </Text>
      )}
    </>
  );
}
