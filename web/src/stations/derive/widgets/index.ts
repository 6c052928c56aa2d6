import type { Widgets } from "../../../forms/SchemaForm";
import { CoefficientsWidget } from "./CoefficientsWidget";
import { IndexWidget } from "./IndexWidget";

/** Pieces that do more than fill a field: they tick many indices, and take whole tables. */
export const WIDGETS: Widgets = {
  coefficients: CoefficientsWidget,
  constants: () => null, // set beside the index that they belong to
  index: IndexWidget,
};
