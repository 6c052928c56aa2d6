import { Flex, Group, IconButton } from "@chakra-ui/react";
import { MousePointer2, PenTool, Redo2, Square, Undo2 } from "lucide-react";

import type { SiteTool } from "../../map";
import { useUndoing } from "../../shared/useUndoing";
import { useWork } from "../../shared/workStore";

const TOOLS: { id: SiteTool; label: string; key: string; icon: React.ReactNode }[] = [
  { id: "reshape", label: "Choose, move and reshape sites", key: "C", icon: <MousePointer2 /> },
  { id: "outline", label: "Draw an outline", key: "O", icon: <PenTool /> },
  { id: "rectangle", label: "Draw a rectangle", key: "R", icon: <Square /> },
];

export function ToolBar() {
  const { tool, set } = useWork();
  const { undo, redo } = useUndoing();
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
          label={undo.title ? `Undo: ${undo.title}` : "Nothing to undo"}
          keys="Ctrl+Z"
          disabled={!undo.title || undo.pending}
          onClick={undo.go}
          icon={<Undo2 />}
        />
        <EditButton
          label={redo.title ? `Redo: ${redo.title}` : "Nothing to redo"}
          keys="Ctrl+Shift+Z"
          disabled={!redo.title || redo.pending}
          onClick={redo.go}
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
