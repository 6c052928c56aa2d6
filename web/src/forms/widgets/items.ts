/** Acts on a list that a field holds: one put in the place of another, taken out, added. */
export function itemActs<T>(items: readonly T[], onItems: (items: T[]) => void) {
  return {
    put: (at: number, item: T) => onItems(items.map((one, i) => (i === at ? item : one))),
    drop: (at: number) => onItems(items.filter((_, i) => i !== at)),
    add: (...more: T[]) => onItems([...items, ...more]),
  };
}
