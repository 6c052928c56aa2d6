import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type RefObject, useEffect } from "react";

/** Rows that are drawn beyond the ones seen, so that the Tab key always finds the next one. */
const OVERSCAN = 8;
const FOCUS_FRAMES = 20;

interface Options {
  readonly frame: RefObject<HTMLElement | null>;
  readonly count: number;
  /** Height of most rows in pixels. */
  readonly height: number;
  readonly keyOf: (index: number) => number | string;
  /** Place of the row that shall be seen, -1 for none. */
  readonly chosen: number;
}

/** The part of a long list that is drawn, and the keys that lead through all of it. Rows carry
 *  `data-index`, and `data-row` on what takes the focus. */
export function useRowWindow({ frame, count, height, keyOf, chosen }: Options) {
  // eslint-disable-next-line react-hooks/incompatible-library -- no compiler is used here
  const rows = useVirtualizer({
    count,
    getScrollElement: () => frame.current,
    estimateSize: () => height,
    overscan: OVERSCAN,
    getItemKey: keyOf,
  });
  useEffect(() => {
    if (chosen >= 0) rows.scrollToIndex(chosen, { align: "auto" });
  }, [rows, chosen]);

  const items = rows.getVirtualItems();
  const page = Math.max(1, items.length - 2 * OVERSCAN);
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const row = (event.target as Element).closest("[data-index]");
    const target = row && targetOf(event.key, Number(row.getAttribute("data-index")), count, page);
    if (target === null) return;
    event.preventDefault();
    event.stopPropagation();
    rows.scrollToIndex(target, { align: "auto" });
    focusRow(frame.current, target);
  };
  const last = items.at(-1);
  return {
    items,
    measure: rows.measureElement,
    before: items[0]?.start ?? 0,
    after: rows.getTotalSize() - (last?.end ?? 0),
    onKeyDown,
  };
}

/** Which row a key leads to from another one; null for other keys. */
export function targetOf(key: string, at: number, count: number, page: number): number | null {
  const wanted: Record<string, number> = {
    ArrowDown: at + 1,
    ArrowUp: at - 1,
    PageDown: at + page,
    PageUp: at - page,
    Home: 0,
    End: count - 1,
  };
  const target = wanted[key];
  return target === undefined ? null : Math.min(Math.max(target, 0), count - 1);
}

/** As soon as the row is drawn. */
function focusRow(frame: HTMLElement | null, index: number, frames = FOCUS_FRAMES): void {
  const row = frame?.querySelector<HTMLElement>(`[data-index="${index}"] [data-row]`);
  if (row) row.focus();
  else if (frames > 0) requestAnimationFrame(() => focusRow(frame, index, frames - 1));
}
