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
  edits: (id: number) => ["study", id, "edits"] as const,
  runs: (id: number) => ["study", id, "runs"] as const,
  layers: (id: number) => ["study", id, "layers"] as const,
  points: (id: number) => ["study", id, "points"] as const,
  accuracy: (layerId: number) => ["layer", layerId, "accuracy"] as const,
  classifiers: ["classifiers"] as const,
  readout: (sceneId: number) => ["readout", sceneId] as const,
};
