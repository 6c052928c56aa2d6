import { Flex, Text, Textarea } from "@chakra-ui/react";

import { useChangeNote, useNotes, useRemoveNote } from "../../api/queries/notes";
import type { Note } from "../../api/types";
import { centreOn } from "../../map";
import { formatDate } from "../../shared/format";
import { Part } from "../../shared/Part";
import { crosshairNow, moveCrosshair } from "../../shared/pointerStore";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useWork } from "../../shared/workStore";

/** Notes pinned to places: read, changed, gone to, removed. */
export function NotesPart() {
  const { data: notes = [] } = useNotes(useStudyId());
  const linked = useWork((store) => store.linked);
  const set = useWork((store) => store.set);
  const pin = () => {
    const middle = linked?.view.getCenter() as [number, number] | undefined;
    set({ notePlace: crosshairNow() ?? middle ?? null });
  };
  return (
    <Part title="Notes" aside={notes.length}>
      <Quiet type="button" title="Key N" onClick={pin}>
        Pin a note at the crosshair
      </Quiet>
      {notes.map((note) => (
        <NoteEntry key={note.id} note={note} />
      ))}
    </Part>
  );
}

function NoteEntry({ note }: { readonly note: Note }) {
  const studyId = useStudyId();
  const change = useChangeNote(studyId);
  const remove = useRemoveNote(studyId);
  const linked = useWork((store) => store.linked);
  const go = () => {
    if (!linked) return;
    centreOn(linked, [note.x, note.y]);
    moveCrosshair([note.x, note.y]);
  };
  return (
    <>
      <Textarea
        key={note.text}
        size="xs"
        mt="1.5"
        bg="card"
        rows={2}
        aria-label={`Note of ${formatDate(note.created_at)}`}
        defaultValue={note.text}
        maxLength={2000}
        onBlur={(event) => {
          const text = event.currentTarget.value.trim();
          if (text !== "" && text !== note.text) change.mutate({ id: note.id, text });
        }}
      />
      <Flex gap="3" mt="0.5">
        <Text color="quiet" flex="1">
          {formatDate(note.created_at)}
        </Text>
        <Quiet type="button" onClick={go}>
          Go there
        </Quiet>
        <Quiet type="button" onClick={() => remove.mutate(note.id)}>
          Remove
        </Quiet>
      </Flex>
    </>
  );
}
