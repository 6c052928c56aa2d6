import { Flex, Text } from "@chakra-ui/react";

import { useMaps } from "../../api/queries/maps";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import type { WidgetProps } from "../SchemaForm";
import { useFormSubject, useLegend } from "../subject";
import { type Becomes, BecomesSelect, useFirstClass } from "./BecomesSelect";
import { ClassFold } from "./ClassFold";
import { type Condition, ConditionLine } from "./ConditionLine";
import { Item } from "./Item";
import { itemActs } from "./items";
import { WidgetLabel } from "./WidgetLabel";

interface Rule {
  classes?: number[];
  conditions?: Condition[];
  becomes: Becomes;
}

/** Conditions on other layers, and what pixels become where they hold; the first rule counts. */
export function RulesWidget({ field, value, onChange }: WidgetProps) {
  const rules = Array.isArray(value) ? (value as Rule[]) : [];
  const { put, drop, add } = itemActs(rules, onChange);
  const first = useFirstClass();
  return (
    <>
      <WidgetLabel field={field} />
      {rules.map((rule, i) => (
        <Item key={i} title={`Rule ${i + 1}`} onRemove={() => drop(i)}>
          <RuleForm rule={rule} onRule={(next) => put(i, next)} />
        </Item>
      ))}
      <Flex mt="1.5">
        <Quiet type="button" onClick={() => add({ classes: [], conditions: [], becomes: first })}>
          Add a rule
        </Quiet>
      </Flex>
    </>
  );
}

interface FormProps {
  readonly rule: Rule;
  readonly onRule: (rule: Rule) => void;
}

function RuleForm({ rule, onRule }: FormProps) {
  const legend = useLegend();
  const fresh = useFreshCondition();
  const { classes = [], conditions = [] } = rule;
  const { put, drop, add } = itemActs(conditions, (next) => onRule({ ...rule, conditions: next }));
  return (
    <>
      <ClassFold
        legend={legend}
        chosen={classes}
        onChosen={(codes) => onRule({ ...rule, classes: codes })}
        none="any class"
        before="Of "
      />
      {conditions.map((condition, i) => (
        <ConditionLine
          key={i}
          number={i + 1}
          condition={condition}
          onChange={(next) => put(i, next)}
          onRemove={() => drop(i)}
        />
      ))}
      <Flex mt="1" gap="2" align="center" wrap="wrap">
        <Quiet type="button" onClick={() => add(fresh)}>
          {conditions.length === 0 ? "Where …" : "And where …"}
        </Quiet>
        <Text>becomes</Text>
        <BecomesSelect
          label="Becomes"
          value={rule.becomes}
          onValue={(becomes) => onRule({ ...rule, becomes })}
        />
      </Flex>
    </>
  );
}

/** What a new condition says until it is changed: of the scene that the map was made of, else of
 * the first one, else of the first map. */
function useFreshCondition(): Condition {
  const { scenes, map: ruled } = useFormSubject();
  const scene = scenes.find(({ id }) => id === ruled?.scene_id) ?? scenes[0];
  const { data: maps = [] } = useMaps(useStudyId());
  if (scene) {
    const [band] = scene.bands;
    const layer = { scene_id: scene.id, role: band ? band.role : "" };
    return { layer, relation: "below", value: 0 };
  }
  const [map] = maps;
  const layer = { scene_id: map ? map.id : 0, role: "class" };
  return { layer, relation: "is", value: map?.legend[0]?.code ?? 1 };
}
