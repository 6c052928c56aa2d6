import { Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useRenameLayer } from "../../api/queries/layers";
import { Quiet } from "../../shared/Quiet";
import { Removal } from "../../shared/Removal";
import { useStudyId } from "../../shared/study";
import type { LayerEntry } from "../../shared/useLayerList";
import { useOrderLayers } from "./useOrderLayers";

interface Props {
  readonly entry: LayerEntry;
  readonly group: string;
  readonly siblings: readonly string[];
}

/** Rename, order, hide, group, remove. */
export function LayerActs({ entry, group, siblings }: Props) {
  const studyId = useStudyId();
  const renameLayer = useRenameLayer(studyId);
  const order = useOrderLayers();
  const [asking, setAsking] = useState(false);
  const owned = entry.scene ?? entry.map;
  const rename = (title: string) => {
    if (owned && title !== "" && title !== entry.title) renameLayer.mutate({ id: owned.id, title });
  };
  const at = siblings.indexOf(entry.key);
  return (
    <Flex direction="column" gap="1.5" mt="1">
      {owned && (
        <CommittedInput
          title="Name"
          label={`Name of ${entry.title}`}
          value={entry.title}
          onCommit={rename}
        />
      )}
      <CommittedInput
        title="Group"
        label={`Group of ${entry.title}`}
        value={group}
        onCommit={(name) => order.group(entry.key, name)}
      />
      <Flex gap="3" wrap="wrap">
        <Quiet type="button" disabled={at <= 0} onClick={() => order.move(siblings, at, -1)}>
          Up
        </Quiet>
        <Quiet
          type="button"
          disabled={at === siblings.length - 1}
          onClick={() => order.move(siblings, at, 1)}
        >
          Down
        </Quiet>
        <Quiet type="button" onClick={() => order.hide(entry.key, !entry.hidden)}>
          {entry.hidden ? "Show in choices again" : "Hide from choices"}
        </Quiet>
        {owned && (
          <Quiet type="button" onClick={() => setAsking(true)}>
            Remove
          </Quiet>
        )}
      </Flex>
      {asking && owned && (
        <Removal layer={owned} isScene={entry.scene !== null} onDone={() => setAsking(false)} />
      )}
    </Flex>
  );
}

interface InputProps {
  readonly title: string;
  readonly label: string;
  readonly value: string;
  readonly onCommit: (text: string) => void;
}

/** A text that is taken when the field is left or Enter is pressed. */
function CommittedInput({ title, label, value, onCommit }: InputProps) {
  return (
    <Flex align="center" gap="2">
      <Text width="3rem" flex="none" color="quiet">
        {title}
      </Text>
      <Input
        key={value}
        size="xs"
        bg="card"
        aria-label={label}
        defaultValue={value}
        maxLength={120}
        onBlur={(event) => onCommit(event.currentTarget.value.trim())}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
        }}
      />
    </Flex>
  );
}
