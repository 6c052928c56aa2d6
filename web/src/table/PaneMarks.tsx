import { useMemo } from "react";

import { useNotes } from "../api/queries/notes";
import { type Mark, MarksLayer } from "../map";
import { lineColour } from "../shared/pins";
import { useStudyId } from "../shared/study";
import { useOverlay } from "../shared/useOverlay";
import { useView } from "../shared/viewStore";

const NOTE_COLOUR = "#B4690E";
const LONGEST_WORDS = 28;

/** Pinned pixels with their numbers, and notes with the beginning of their words. */
export function PaneMarks() {
  const { pins } = useView("pins");
  const { data: notes } = useNotes(useStudyId());
  const withPins = useOverlay("pins");
  const withNotes = useOverlay("notes");
  const marks = useMemo<Mark[]>(() => {
    const pinned = pins.map((at, i) => ({
      at,
      colour: lineColour(i),
      sign: String(i + 1),
      words: "",
    }));
    const noted = (notes ?? []).map(({ x, y, text }) => ({
      at: [x, y] as [number, number],
      colour: NOTE_COLOUR,
      sign: "¶",
      words: text.length > LONGEST_WORDS ? `${text.slice(0, LONGEST_WORDS)} …` : text,
    }));
    return [...(withPins ? pinned : []), ...(withNotes ? noted : [])];
  }, [pins, notes, withPins, withNotes]);
  return <MarksLayer marks={marks} />;
}
