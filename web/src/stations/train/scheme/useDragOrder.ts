import { type DragEvent, useState } from "react";

export interface RowDrag {
  /** A dragged row would come before this one. */
  readonly isTarget: boolean;
  readonly handle: { draggable: true; onDragStart: () => void; onDragEnd: () => void };
  readonly row: { onDragOver: (event: DragEvent) => void; onDrop: (event: DragEvent) => void };
}

/** Rows that are put into order by dragging; what each row needs for it. */
export function useDragOrder(onMove: (from: number, to: number) => void) {
  const [from, setFrom] = useState<number | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const end = () => {
    setFrom(null);
    setOver(null);
  };
  return (place: number): RowDrag => ({
    isTarget: from !== null && over === place && from !== place,
    handle: { draggable: true, onDragStart: () => setFrom(place), onDragEnd: end },
    row: {
      onDragOver: (event) => {
        if (from === null) return;
        event.preventDefault();
        setOver(place);
      },
      onDrop: (event) => {
        event.preventDefault();
        if (from !== null && from !== place) onMove(from, place);
        end();
      },
    },
  });
}
