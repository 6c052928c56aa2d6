import { cloudText, sceneOfCloud } from "../../shared/cloud";
import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { useWork } from "../../shared/workStore";
import { Used } from "./Used";
import { WidgetLabel } from "./WidgetLabel";

/** The cloud that is circled in feature space just now. */
export function CloudWidget({ field, value, onChange }: WidgetProps) {
  const cloud = useWork((store) => store.cloud);
  const scene = cloud && sceneOfCloud(cloud);
  const used = value as { across: string; up: string } | null | undefined;
  if (used) {
    return (
      <>
        <WidgetLabel field={field} />
        <Used
          what={`A cloud of ${used.across} and ${used.up} is used`}
          onNone={() => onChange(null)}
        />
      </>
    );
  }
  const use = () => {
    if (!cloud || !scene) return;
    const { across, up } = scene;
    onChange({ across, up, corners: cloudText(cloud.corners) });
  };
  return (
    <>
      <WidgetLabel field={field} />
      <Quiet type="button" disabled={!scene} onClick={use}>
        {scene
          ? `Use the cloud circled in ${scene.across} and ${scene.up}`
          : "Circle one in Feature space, in two bands of one scene, to use it"}
      </Quiet>
    </>
  );
}
