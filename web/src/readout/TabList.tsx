import { chakra, Flex } from "@chakra-ui/react";
import { type KeyboardEvent, useRef } from "react";

import { type Tab, TABS } from "../shared/view";
import { useView, useViewStore } from "../shared/viewStore";
import { TABS_HEIGHT_PX } from "./tabsHeight";

const TITLES: Record<Tab, string> = {
  spectrum: "Spectrum",
  histogram: "Histogram",
  line: "Line",
  space: "Feature space",
  time: "Time",
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
  const { tab: now } = useView();
  const change = useViewStore((store) => store.change);
  const list = useRef<HTMLDivElement>(null);
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const at = (TABS.indexOf(now) + by + TABS.length) % TABS.length;
    change({ tab: TABS[at] ?? "spectrum" });
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
      gap="4"
      onKeyDown={key}
    >
      {TABS.map((tab) => (
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
