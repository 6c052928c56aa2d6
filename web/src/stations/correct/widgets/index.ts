import type { Widgets } from "../../../shared/SchemaForm";
import { AreasWidget, AreaWidget } from "./AreaWidgets";
import { BandFactorsWidget } from "./BandFactorsWidget";
import { CloudWidget } from "./CloudWidget";
import { CrsWidget } from "./CrsWidget";
import { DarkValuesWidget } from "./DarkValuesWidget";
import { ExtentWidget } from "./ExtentWidget";
import { FlagsWidget } from "./FlagsWidget";
import { RoleWidget } from "./RoleWidget";
import { SceneWidget } from "./SceneWidget";

/** Pieces that draw the fields which are no plain number, choice or switch. */
export const WIDGETS: Widgets = {
  area: AreaWidget,
  areas: AreasWidget,
  "band factors": BandFactorsWidget,
  cloud: CloudWidget,
  crs: CrsWidget,
  "dark values": DarkValuesWidget,
  extent: ExtentWidget,
  "quality flags": FlagsWidget,
  role: RoleWidget,
  scene: SceneWidget,
};
