import { Flex, Group, IconButton } from "@chakra-ui/react";
import { Circle, MousePointer2, Paintbrush, PenTool, Scissors, Sprout, Square } from "lucide-react";

import type { SiteTool } from "../../map";
import { Quiet } from "../../shared/Quiet";
import { useWork } from "../../shared/workStore";

const TOOLS: { id: SiteTool; label: string; key: string; icon: React.ReactNode }[] = [
  { id: "reshape", label: "Choose, move and reshape sites", key: "C", icon: <MousePointer2 /> },
  { id: "outline", label: "Draw an outline", key: "O", icon: <PenTool /> },
  { id: "rectangle", label: "Draw a rectangle", key: "R", icon: <Square /> },
  { id: "circle", label: "Draw a circle from its middle", key: "I", icon: <Circle /> },
  { id: "grow", label: "Grow a site from a pixel", key: "F", icon: <Sprout /> },
  {
    id: "brush",
    label: "Paint single pixels; with Shift take them out",
    key: "V",
    icon: <Paintbrush />,
  },
  { id: "cut", label: "Cut a site along a line", key: "X", icon: <Scissors /> },
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
      <Quiet type="button" onClick={() => set({ sheet: { kind: "ground" } })}>
        Bring in
      </Quiet>
    </Flex>
  );
}
