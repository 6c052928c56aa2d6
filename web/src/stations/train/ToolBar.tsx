import { Flex, Group, IconButton } from "@chakra-ui/react";
import { MousePointer2, PenTool, Redo2, Square, Undo2 } from "lucide-react";

import { useRedo, useUndo } from "../../api/queries/edits";
import { useEditState } from "../../api/queries/training";
import type { SiteTool } from "../../map";
import { useStudyId } from "../../shared/study";
import { useWork } from "../../shared/workStore";

const TOOLS: { id: SiteTool; label: string; key: string; icon: React.ReactNode }[] = [
  { id: "reshape", label: "Choose, move and reshape sites", key: "C", icon: <MousePointer2 /> },
  { id: "outline", label: "Draw an outline", key: "O", icon: <PenTool /> },
  { id: "rectangle", label: "Draw a rectangle", key: "R", icon: <Square /> },
];

export function ToolBar() {
  const studyId = useStudyId();
  const { tool, set } = useWork();
  const { data: edits } = useEditState(studyId);
  const undo = useUndo(studyId);
  const redo = useRedo(studyId);
  return (
    <Flex justify="space-between" role="toolbar" aria-label="Site tools">
      <Group gap="1">
        {TOOLS.map(({ id, label, key, icon }) => (
          <IconButton
            key={id}
            size="xs"
            variant={tool === id ? "solid" : "outline"}
            bg={tool === id ? "cool" : "card"}
            color={tool === id ? "card" : "ink"}
            borderColor="line"
            aria-label={label}
            aria-pressed={tool === id}
            title={`${label} (${key})`}
            onClick={() => set({ tool: id })}
          >
            {icon}
          </IconButton>
        ))}
      </Group>
      <Group gap="1">
        <EditButton
          label={edits?.undo ? `Undo: ${edits.undo}` : "Nothing to undo"}
          keys="Ctrl+Z"
          disabled={!edits?.undo || undo.isPending}
          onClick={() => undo.mutate(undefined)}
          icon={<Undo2 />}
        />
        <EditButton
          label={edits?.redo ? `Redo: ${edits.redo}` : "Nothing to redo"}
          keys="Ctrl+Shift+Z"
          disabled={!edits?.redo || redo.isPending}
          onClick={() => redo.mutate(undefined)}
          icon={<Redo2 />}
        />
      </Group>
    </Flex>
  );
}

interface EditButtonProps {
  readonly label: string;
  readonly keys: string;
  readonly disabled: boolean;
  readonly onClick: () => void;
  readonly icon: React.ReactNode;
}

function EditButton({ label, keys, disabled, onClick, icon }: EditButtonProps) {
  return (
    <IconButton
      size="xs"
      variant="outline"
      bg="card"
      borderColor="line"
      aria-label={label}
      title={`${label} (${keys})`}
      disabled={disabled}
      onClick={onClick}
    >
      {icon}
    </IconButton>
  );
}
