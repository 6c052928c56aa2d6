import { useLayerNames } from "../../api/queries/deriveAids";
import type { WidgetProps } from "../SchemaForm";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useFormScene, useFormSubject } from "../subject";

/** A band of the scene, or any other layer of the study by the name that formulas use. */
export function LayerNameWidget({ field, value, onChange }: WidgetProps) {
  const scene = useFormScene();
  const { scenes } = useFormSubject();
  const { data: names = [] } = useLayerNames(useStudyId());
  const singles = new Set(scenes.filter((one) => one.series === null).map((one) => one.id));
  const others = names.filter(
    ({ name, scene_id }) => name.includes(".") && scene_id !== scene.id && singles.has(scene_id),
  );
  return (
    <Select
      label={field.title ?? "Layer"}
      value={typeof value === "string" ? value : ""}
      options={[
        ...scene.bands.map(({ role }) => ({ value: role, label: role })),
        ...others.map(({ name, role, title }) => ({ value: name, label: `${role}, ${title}` })),
      ]}
      onValue={onChange}
    />
  );
}
