import type { Widgets } from "../../../shared/SchemaForm";
import { AlignWidget } from "./AlignWidget";
import { CoefficientsWidget } from "./CoefficientsWidget";
import { FormulaWidget } from "./FormulaWidget";
import { IndexWidget } from "./IndexWidget";
import { LayerNameWidget } from "./LayerNameWidget";
import { MeasuresWidget } from "./MeasuresWidget";
import { MembersWidget } from "./MembersWidget";
import { RolesWidget, RoleWidget } from "./RoleWidgets";
import { ShortNameWidget } from "./ShortNameWidget";

/** Pieces that draw the fields which are no plain number, choice or switch. */
export const WIDGETS: Widgets = {
  align: AlignWidget,
  coefficients: CoefficientsWidget,
  constants: () => null, // set beside the index that they belong to
  formula: FormulaWidget,
  index: IndexWidget,
  "layer name": LayerNameWidget,
  measures: MeasuresWidget,
  members: MembersWidget,
  role: RoleWidget,
  roles: RolesWidget,
  "short name": ShortNameWidget,
};
