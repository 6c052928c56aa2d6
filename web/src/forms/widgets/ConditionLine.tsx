import { Flex } from "@chakra-ui/react";

import { useMaps } from "../../api/queries/maps";
import { NumberField } from "../../shared/NumberField";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useFormSubject } from "../subject";

export interface Condition {
  layer: { scene_id: number; role: string };
  relation: string;
  value: number;
}

interface Props {
  readonly number: number;
  readonly condition: Condition;
  readonly onChange: (condition: Condition) => void;
  readonly onRemove: () => void;
}

const MEASURED = ["below", "at most", "at least", "above"];
const CODED = ["is", "is not"];

/** A band of a layer beside a number, or a map beside one of its classes. */
export function ConditionLine({ number, condition, onChange, onRemove }: Props) {
  const { scenes } = useFormSubject();
  const { data: maps = [] } = useMaps(useStudyId());
  const { layer, relation, value } = condition;
  const scene = scenes.find(({ id }) => id === layer.scene_id);
  const map = maps.find(({ id }) => id === layer.scene_id);
  const put = (part: Partial<Condition>) => onChange({ ...condition, ...part });
  const choose = (id: number) => {
    const found = scenes.find((one) => one.id === id);
    const role = found?.bands[0]?.role ?? "class";
    const code = maps.find((one) => one.id === id)?.legend[0]?.code ?? 1;
    put({
      layer: { scene_id: id, role },
      relation: found ? "below" : "is",
      value: found ? 0 : code,
    });
  };
  const relations = map ? CODED : MEASURED;
  return (
    <Flex gap="1" mt="1" wrap="wrap" align="center" role="group" aria-label={`Condition ${number}`}>
      <Flex gap="2" width="100%" align="center">
        <Select
          label="Layer"
          hideLabel
          width="100%"
          value={String(layer.scene_id)}
          options={[...scenes, ...maps].map(({ id, title }) => ({
            value: String(id),
            label: title,
          }))}
          onValue={(id) => choose(Number(id))}
        />
        <Quiet type="button" aria-label={`Leave out condition ${number}`} onClick={onRemove}>
          Leave out
        </Quiet>
      </Flex>
      {scene && scene.bands.length > 1 && (
        <Select
          label="Band"
          hideLabel
          width="7rem"
          value={layer.role}
          options={scene.bands.map(({ role }) => ({ value: role, label: role }))}
          onValue={(role) => put({ layer: { ...layer, role } })}
        />
      )}
      <Select
        label="Relation"
        hideLabel
        width="6rem"
        value={relation}
        options={relations.map((one) => ({ value: one, label: one }))}
        onValue={(one) => put({ relation: one })}
      />
      {map ? (
        <Select
          label="Class"
          hideLabel
          width="9.5rem"
          value={String(value)}
          options={map.legend.map(({ code, name }) => ({ value: String(code), label: name }))}
          onValue={(code) => put({ value: Number(code) })}
        />
      ) : (
        <NumberField label="Value" value={value} onNumber={(next) => put({ value: next })} />
      )}
    </Flex>
  );
}
