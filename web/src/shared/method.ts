/** The method in hand: what the live map shows and what a run would do. */
export interface MethodInHand {
  id: string;
  settings: Record<string, unknown>;
  seed: number;
}

/** In so many of all cases the right class is among those still possible. */
export const LEVEL = 0.9;

export const USUAL_METHOD: MethodInHand = { id: "maximum-likelihood", settings: {}, seed: 0 };

export const USUAL_CLUSTERING: MethodInHand = { id: "k-means", settings: {}, seed: 0 };

/** As the server is told; nothing for the usual one. */
export function methodQuery(method: MethodInHand): string {
  const usual =
    method.id === USUAL_METHOD.id && method.seed === 0 && Object.keys(method.settings).length === 0;
  return usual ? "" : JSON.stringify(method);
}

export function mendMethod(stored: unknown, usual = USUAL_METHOD): MethodInHand {
  const { id, settings, seed } = (stored ?? {}) as Partial<MethodInHand>;
  if (typeof id !== "string") return usual;
  return {
    id,
    settings: typeof settings === "object" ? { ...settings } : {},
    seed: typeof seed === "number" && Number.isSafeInteger(seed) && seed >= 0 ? seed : 0,
  };
}
