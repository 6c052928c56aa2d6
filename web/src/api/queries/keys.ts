/** Query keys in one place, so that what depends on an edit can be named. */
export const keys = {
  studies: ["studies"] as const,
  study: (id: number) => ["study", id] as const,
  scenes: (id: number) => ["study", id, "scenes"] as const,
  classes: (id: number) => ["study", id, "classes"] as const,
  sites: (id: number, sceneId: number) => ["study", id, "sites", sceneId] as const,
  allSites: (id: number) => ["study", id, "sites"] as const,
  training: (id: number, sceneId: number, roles: string) =>
    ["study", id, "training", sceneId, roles] as const,
  allTraining: (id: number) => ["study", id, "training"] as const,
  grown: (id: number, order: unknown) => ["study", id, "grown", order] as const,
  ground: (id: number, order: unknown) => ["study", id, "ground", order] as const,
  judgement: (id: number, sceneId: number, roles: string) =>
    ["study", id, "training", "judgement", sceneId, roles] as const,
  nextPlaces: (id: number, order: unknown) =>
    ["study", id, "training", "next-places", order] as const,
  classStatistics: (id: number, order: unknown) =>
    ["study", id, "training", "statistics", order] as const,
  pairBands: (id: number, order: unknown) =>
    ["study", id, "training", "pair-bands", order] as const,
  carried: (id: number, order: unknown) => ["study", id, "training", "carried", order] as const,
  oddPixels: (id: number, siteId: number, order: unknown) =>
    ["study", id, "training", "odd-pixels", siteId, order] as const,
  firstCheck: (id: number, order: unknown) =>
    ["study", id, "training", "first-check", order] as const,
  bandAdvice: (id: number, sceneId: number, version: string, roles: string) =>
    ["study", id, "band-advice", sceneId, version, roles] as const,
  edits: (id: number) => ["study", id, "edits"] as const,
  runs: (id: number) => ["study", id, "runs"] as const,
  trained: (id: number) => ["study", id, "trained"] as const,
  questions: (classifierId: number) => ["classifier", classifierId, "questions"] as const,
  fits: (classifierId: number, sceneIds: readonly number[]) =>
    ["classifier", classifierId, "fits", ...sceneIds] as const,
  maps: (id: number) => ["study", id, "maps"] as const,
  points: (id: number) => ["study", id, "points"] as const,
  accuracy: (layerId: number) => ["map", layerId, "accuracy"] as const,
  against: (first: number, second: number) => ["map", first, "against", second] as const,
  shares: (layerId: number, order: unknown) => ["map", layerId, "shares", order] as const,
  classifiers: ["classifiers"] as const,
  statistics: (sceneId: number) => ["scene", sceneId, "statistics"] as const,
  histogram: (sceneId: number, role: string) => ["scene", sceneId, "histogram", role] as const,
  darkValues: (sceneId: number, settings: string) => ["scene", sceneId, "dark", settings] as const,
  dependants: (layerId: number) => ["layer", layerId, "dependants"] as const,
  comparison: (id: number, scenes: string) => ["study", id, "comparison", scenes] as const,
  shift: (sceneId: number, reference: number) => ["scene", sceneId, "shift", reference] as const,
  deliveries: (id: number) => ["study", id, "deliveries"] as const,
  broken: (id: number) => ["study", id, "scenes", "broken"] as const,
  findings: (deliveryId: number) => ["delivery", deliveryId, "findings"] as const,
  ranges: (deliveryId: number, position: number) =>
    ["delivery", deliveryId, "ranges", position] as const,
  doubts: (deliveryId: number, position: number, roles: string) =>
    ["delivery", deliveryId, "doubts", position, roles] as const,
  roles: ["roles"] as const,
  sensors: ["sensors"] as const,
  nearRole: (text: string) => ["near-role", text] as const,
  serverBoundaries: ["folder-boundaries"] as const,
  folder: (path: string | null) => ["folder", path] as const,
  crs: (text: string) => ["crs", text] as const,
  corrections: ["corrections"] as const,
  combinations: ["combinations"] as const,
  catalogues: ["catalogues"] as const,
  derivations: ["derivations"] as const,
  functions: ["functions"] as const,
  indices: (sceneId: number) => ["scene", sceneId, "indices"] as const,
  draft: (id: number, order: unknown) => ["study", id, "draft", order] as const,
  formula: (id: number, sceneId: number, text: string) =>
    ["study", id, "formula", sceneId, text] as const,
  layerNames: (id: number) => ["study", id, "scenes", "names"] as const,
  presets: (id: number) => ["study", id, "presets"] as const,
  undefinedPixels: (sceneId: number) => ["scene", sceneId, "undefined"] as const,
  relations: (sceneId: number) => ["scene", sceneId, "relations"] as const,
  coefficientSets: (sceneId: number) => ["scene", sceneId, "coefficient-sets"] as const,
  coefficients: (text: string) => ["coefficients", text] as const,
  breakCounts: (sceneId: number, order: unknown) =>
    ["scene", sceneId, "break-counts", order] as const,
  series: (id: number) => ["study", id, "series"] as const,
  seriesValues: (id: number, place: unknown) => ["study", id, "series-values", place] as const,
  readout: (id: number) => ["study", id, "readout"] as const,
  notes: (id: number) => ["study", id, "notes"] as const,
  line: (id: number, order: unknown) => ["study", id, "line", order] as const,
  plane: (id: number, order: unknown) => ["study", id, "plane", order] as const,
  planes: (id: number) => ["study", id, "plane"] as const,
  channels: (sceneId: number, order: unknown) => ["scene", sceneId, "channels", order] as const,
  regionHistogram: (sceneId: number, order: unknown) =>
    ["scene", sceneId, "region-histogram", order] as const,
};
