import { Combobox, createListCollection, Portal } from "@chakra-ui/react";
import { useState } from "react";

import { type SearchItem, useSearchItems } from "./useSearchItems";

const SHOWN = 9;
const FOCUS_MS = 60; // after the list has handed the focus back to the box

/** Find a layer, class, station or act by a part of its name. */
export function SearchBox() {
  const items = useSearchItems();
  const [text, setText] = useState("");
  const found = findItems(items, text);
  const collection = createListCollection({
    items: found,
    itemToString: (item) => item.title,
    itemToValue: (item) => item.key,
  });
  return (
    <Combobox.Root
      size="sm"
      width="16rem"
      collection={collection}
      inputValue={text}
      value={[]}
      selectionBehavior="clear"
      openOnClick
      lazyMount
      unmountOnExit
      onInputValueChange={(details) => setText(details.inputValue)}
      onValueChange={(details) => {
        details.items[0]?.act();
        setText("");
        setTimeout(focusPane, FOCUS_MS);
      }}
    >
      <Combobox.Control>
        <Combobox.Input
          aria-label="Find a layer, class or act"
          placeholder="Find a layer, class or act"
          borderRadius="full"
          bg="card"
        />
      </Combobox.Control>
      <Portal>
        <Combobox.Positioner>
          <Combobox.Content bg="card">
            <Combobox.Empty>Nothing is called that.</Combobox.Empty>
            {found.map((item) => (
              <Combobox.Item key={item.key} item={item}>
                <Combobox.ItemText flex="1">{item.title}</Combobox.ItemText>
              </Combobox.Item>
            ))}
          </Combobox.Content>
        </Combobox.Positioner>
      </Portal>
    </Combobox.Root>
  );
}

/** Keys belong to the map again once something was found. */
function focusPane(): void {
  document.querySelector<HTMLElement>('[role="application"]')?.focus();
}

function findItems(items: SearchItem[], text: string): SearchItem[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const hit = (item: SearchItem) => words.every((w) => item.title.toLowerCase().includes(w));
  return items.filter(hit).slice(0, SHOWN);
}
