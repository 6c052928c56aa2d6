import { chakra, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, useRef } from "react";

import type { Tab } from "../shared/view";
import { useViewStore } from "../shared/viewStore";
import { TABS_HEIGHT_PX } from "./tabsHeight";
import { useTab, useTabs } from "./useTab";

const TITLES: Record<Tab, string> = {
  spectrum: "Spectrum",
  histogram: "Histogram",
  line: "Line",
  space: "Feature space",
  time: "Time",
  sites: "Sites",
  classes: "Classes",
  "first-check": "First check",
  clusters: "Clusters",
  tree: "Tree",
  "how-many": "How many",
};

const TabButton = chakra("button", {
  base: {
    color: "quiet",
    cursor: "pointer",
    lineHeight: 1.3,
    borderBottom: "2px solid transparent",
    _hover: { color: "ink" },
    _selected: { color: "ink", fontWeight: 650, borderColor: "cool" },
  },
});

/** What the readout shows. */
export function TabList() {
  const now = useTab();
  const tabs = useTabs();
  const change = useViewStore((store) => store.change);
  const list = useRef<HTMLDivElement>(null);
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const at = (tabs.indexOf(now) + by + tabs.length) % tabs.length;
    change({ tab: tabs[at] ?? "spectrum" });
    list.current?.querySelectorAll<HTMLElement>("[role=tab]")[at]?.focus();
  };
  return (
    <Flex
      ref={list}
      role="tablist"
      aria-label="Readout"
      px="3"
      height={`${TABS_HEIGHT_PX}px`}
      flex="none"
      align="center"
      gap="3"
      onKeyDown={key}
    >
      {tabs.map((tab) => (
        <TabButton
          key={tab}
          type="button"
          role="tab"
          aria-selected={tab === now}
          tabIndex={tab === now ? 0 : -1}
          onClick={() => change({ tab })}
        >
          {TITLES[tab]}
        </TabButton>
      ))}
    </Flex>
  );
}
