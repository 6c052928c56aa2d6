import type { Widgets } from "../SchemaForm";
import { AlignWidget } from "./AlignWidget";
import { AreasWidget, AreaWidget } from "./AreaWidgets";
import { BandFactorsWidget } from "./BandFactorsWidget";
import { ClassCodesWidget } from "./ClassCodesWidget";
import { ClassesOfMapWidget } from "./ClassesOfMapWidget";
import { CloudWidget } from "./CloudWidget";
import { CoefficientsWidget } from "./CoefficientsWidget";
import { CrsWidget } from "./CrsWidget";
import { DarkValuesWidget } from "./DarkValuesWidget";
import { EditsWidget } from "./EditsWidget";
import { ExtentWidget } from "./ExtentWidget";
import { FlagsWidget } from "./FlagsWidget";
import { FormulaWidget } from "./FormulaWidget";
import { IndexWidget } from "./IndexWidget";
import { LayerNameWidget } from "./LayerNameWidget";
import { MeasuresWidget } from "./MeasuresWidget";
import { MembersWidget } from "./MembersWidget";
import { PriorsWidget } from "./PriorsWidget";
import { RecodeWidget } from "./RecodeWidget";
import { RolesWidget, RoleWidget } from "./RoleWidgets";
import { RulesWidget } from "./RulesWidget";
import { SceneWidget } from "./SceneWidget";
import { SharesWidget } from "./SharesWidget";
import { ShortNameWidget } from "./ShortNameWidget";
import { WholeNumbersWidget } from "./WholeNumbersWidget";

/** Pieces that draw the fields which are no plain number, choice or switch, whatever the station. */
export const WIDGETS: Widgets = {
  align: AlignWidget,
  area: AreaWidget,
  areas: AreasWidget,
  "band factors": BandFactorsWidget,
  "class codes": ClassCodesWidget,
  "classes of a map": ClassesOfMapWidget,
  cloud: CloudWidget,
  coefficients: CoefficientsWidget,
  constants: () => null, // set beside the index that they belong to
  crs: CrsWidget,
  "dark values": DarkValuesWidget,
  edits: EditsWidget,
  extent: ExtentWidget,
  formula: FormulaWidget,
  index: IndexWidget,
  "layer name": LayerNameWidget,
  measures: MeasuresWidget,
  members: MembersWidget,
  priors: PriorsWidget,
  "quality flags": FlagsWidget,
  recode: RecodeWidget,
  role: RoleWidget,
  roles: RolesWidget,
  rules: RulesWidget,
  scene: SceneWidget,
  shares: SharesWidget,
  "short name": ShortNameWidget,
  "whole numbers": WholeNumbersWidget,
};
