import { useState } from "react";

import { Quiet } from "../../shared/Quiet";
import type { LayerEntry } from "../../shared/useLayerList";
import { LayerRow } from "./LayerRow";

interface Props {
  readonly group: string;
  readonly all: readonly LayerEntry[];
  readonly entries: readonly LayerEntry[];
  readonly isSearched: boolean;
}

const FEW = 6;

/** The layers of a group; of many, a few until more are asked for. */
export function GroupRows({ group, all, entries, isSearched }: Props) {
  const [open, setOpen] = useState(false);
  const shown = open || isSearched || entries.length <= FEW ? entries : entries.slice(0, 2);
  const siblings = all.map(({ key }) => key);
  return (
    <>
      {shown.map((entry) => (
        <LayerRow key={entry.key} entry={entry} group={group} siblings={siblings} />
      ))}
      {shown.length < entries.length && (
        <Quiet type="button" mt="1" onClick={() => setOpen(true)}>
          All {entries.length} of {group}
        </Quiet>
      )}
    </>
  );
}
