import { Flex } from "@chakra-ui/react";

import { Toggle } from "../../shared/Toggle";
import { useClusterMapId } from "../../shared/useClusters";
import type { PaneShow, View } from "../../shared/view";
import { useView, useViewStore } from "../../shared/viewStore";

const WAYS: [View["classifyBy"], string][] = [
  ["sites", "From training sites"],
  ["clusters", "By clusters"],
];

/** What the right pane may show that makes room for clusters, which are seen at once. */
const FROM_SITES: ReadonlySet<PaneShow["kind"]> = new Set(["live", "map", "tidied"]);

/** Whether classes are taught by sites, or found and then named. */
export function ByChoice() {
  const { classifyBy, panes } = useView("classifyBy", "panes");
  const { change, setPane } = useViewStore.getState();
  const kept = useClusterMapId();
  const choose = (way: View["classifyBy"]) => {
    change({ classifyBy: way, ...(way === "clusters" && { tab: "clusters" as const }) });
    const right = panes[1].kind;
    if (way === "clusters" && FROM_SITES.has(right)) {
      setPane(1, kept === null ? { kind: "clusters" } : { kind: "named", layerId: kept });
    }
    if (way === "sites" && (right === "clusters" || right === "named")) {
      setPane(1, { kind: "live" });
    }
  };
  return (
    <Flex gap="1.5" role="group" aria-label="How classes come about">
      {WAYS.map(([way, label]) => (
        <Toggle key={way} label={label} on={classifyBy === way} onClick={() => choose(way)} />
      ))}
    </Flex>
  );
}
