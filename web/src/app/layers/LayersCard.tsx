import { Flex, IconButton, Input, Text } from "@chakra-ui/react";
import { X } from "lucide-react";
import { useState } from "react";

import { Card } from "../../shared/Card";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { useLayerList } from "../../shared/useLayerList";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { GroupRows } from "./GroupRows";
import { NotesPart } from "./NotesPart";
import { OverlaysPart } from "./OverlaysPart";

/** Everything that can be shown, in one place, by where it comes from. */
export function LayersCard() {
  const [text, setText] = useState("");
  const [withHidden, setWithHidden] = useState(false);
  const set = useWork((store) => store.set);
  const { layers } = useView("layers");
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const groups = useLayerList()
    .map(({ title, entries }) => ({
      title,
      all: entries,
      entries: entries.filter(
        (entry) =>
          (withHidden || !entry.hidden) &&
          words.every((w) => entry.title.toLowerCase().includes(w)),
      ),
    }))
    .filter(({ entries }) => entries.length > 0);
  return (
    <Card title="Layers" purpose="Show, name, order, hide, group and remove what the study holds.">
      <Flex position="absolute" top="2" right="2">
        <IconButton
          size="2xs"
          variant="ghost"
          aria-label="Back to the station"
          title="Back to the station (L)"
          onClick={() => set({ layersOpen: false })}
        >
          <X />
        </IconButton>
      </Flex>
      <Input
        size="sm"
        bg="card"
        aria-label="Find a layer"
        placeholder="Find a layer"
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      {groups.map(({ title, all, entries }) => (
        <Part key={title} title={title} aside={entries.length}>
          <GroupRows group={title} all={all} entries={entries} isSearched={words.length > 0} />
        </Part>
      ))}
      {groups.length === 0 && (
        <Text color="quiet" mt="3">
          No layer is called that.
        </Text>
      )}
      {layers.hidden.length > 0 && (
        <Quiet type="button" mt="3" onClick={() => setWithHidden(!withHidden)}>
          {withHidden ? "Leave hidden layers out" : `Show hidden layers, ${layers.hidden.length}`}
        </Quiet>
      )}
      <OverlaysPart />
      <NotesPart />
    </Card>
  );
}
