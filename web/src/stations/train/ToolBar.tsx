import { Flex, Group, IconButton } from "@chakra-ui/react";
import { MousePointer2, PenTool, Square } from "lucide-react";

import type { SiteTool } from "../../map";
import { useWork } from "../../shared/workStore";

const TOOLS: { id: SiteTool; label: string; key: string; icon: React.ReactNode }[] = [
  { id: "reshape", label: "Choose, move and reshape sites", key: "C", icon: <MousePointer2 /> },
  { id: "outline", label: "Draw an outline", key: "O", icon: <PenTool /> },
  { id: "rectangle", label: "Draw a rectangle", key: "R", icon: <Square /> },
];

export function ToolBar() {
  const tool = useWork((store) => store.tool);
  const set = useWork((store) => store.set);
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
    </Flex>
  );
}
