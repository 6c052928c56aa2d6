import { Group, IconButton } from "@chakra-ui/react";
import { Redo2, Undo2 } from "lucide-react";

import { useUndoing } from "../shared/useUndoing";

/** Undo and redo of whatever was done to the study, at any station, each by its name. */
export function UndoRedo() {
  const { undo, redo } = useUndoing();
  return (
    <Group gap="0.5">
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
      variant="ghost"
      aria-label={label}
      title={`${label} (${keys})`}
      disabled={disabled}
      onClick={onClick}
    >
      {icon}
    </IconButton>
  );
}
