import type { components } from "./schema.generated";

type Schemas = components["schemas"];

export type Study = Schemas["Study"];
export type Scene = Schemas["SceneOut"];
export type Grid = Schemas["GridOut"];
export type Band = Schemas["BandOut"];
export type Composite = Schemas["CompositeOut"];
export type LandClass = Schemas["LandClass"];
export type Site = Schemas["SiteOut"];
export type Training = Schemas["TrainingOut"];
export type ClassTraining = Schemas["ClassTrainingOut"];
export type Classifier = Schemas["ClassifierOut"];
export type Run = Schemas["RunOut"];
export type Layer = Schemas["LayerOut"];
export type Accuracy = Schemas["AccuracyOut"];
export type Proportion = Schemas["ProportionOut"];
export type Readout = Schemas["ReadoutOut"];
export type EditState = Schemas["EditStateOut"];
