import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

import { ALL, type Ranges } from "../charts";
import { OnDemandPopover } from "../shared/OnDemandPopover";
import { printPicture } from "../shared/printPicture";
import { Quiet } from "../shared/Quiet";
import { saveFile } from "../shared/saveFile";
import { RangeFields } from "./RangeFields";
import { TABS_HEIGHT_PX } from "./tabsHeight";
import { ControlColumn } from "./ControlColumn";

export interface ChartState {
  title: string;
  ranges: Ranges;
  setRanges: (ranges: Ranges) => void;
  onReady: (toPng: () => string) => void;
}

/** Holds the way to take the chart as a picture, which the chart hands out when it is drawn. */
function makeCamera(onLoaded: () => void) {
  let take: (() => string) | null = null;
  return {
    load: (next: () => string) => {
      take = next;
      onLoaded();
    },
    shoot: () => take?.() ?? "",
  };
}

interface Props {
  /** Of the files that are saved. */
  readonly name: string;
  /** What is chosen for the chart, in a column beside it. */
  readonly controls: ReactNode;
  /** One line below the chart: from which pixels, how many. */
  readonly note: ReactNode;
  readonly csv: () => string;
  /** What would fill the chart, where there is nothing to draw yet. */
  readonly empty?: string | null | undefined;
  /** Beside the chart: a table, a legend. */
  readonly aside?: ReactNode;
  readonly children: (state: ChartState) => ReactNode;
}

/** A chart with its choices, and what every chart can do: title, range, PNG, CSV, print. */
export function ChartFrame({ name, controls, note, csv, empty, aside, children }: Props) {
  const [title, setTitle] = useState("");
  const [ranges, setRanges] = useState<Ranges>(ALL);
  // A chart comes a moment after its frame; what cannot be done yet is not offered.
  const [isDrawn, setIsDrawn] = useState(false);
  const [camera] = useState(() => makeCamera(() => setIsDrawn(true)));
  const isEmpty = Boolean(empty);
  const isZoomed = ranges.x !== null || ranges.y !== null;
  const withPicture = (act: (picture: string) => void) => {
    const picture = camera.shoot();
    if (picture) act(picture);
  };
  return (
    <Flex direction="column" flex="1" minH="0" position="relative">
      {/* Beside the list of tabs, which stays where it is when another tab comes. */}
      <Flex
        position="absolute"
        bottom="100%"
        right="3"
        gap="3"
        role="group"
        aria-label="Chart"
        lineHeight={`${TABS_HEIGHT_PX}px`}
      >
        {isZoomed && (
          <Quiet type="button" onClick={() => setRanges(ALL)}>
            Show all
          </Quiet>
        )}
        <OnDemandPopover
          button={<Quiet type="button">Title and range</Quiet>}
          placement="top-end"
          width="19rem"
        >
          {() => (
            <>
              <Input
                size="xs"
                aria-label="Title of the chart"
                placeholder="Title of the chart"
                value={title}
                onChange={(event) => setTitle(event.currentTarget.value)}
              />
              <RangeFields ranges={ranges} onRanges={setRanges} />
            </>
          )}
        </OnDemandPopover>
        <Quiet
          type="button"
          disabled={isEmpty || !isDrawn}
          onClick={() => withPicture((p) => saveFile(`${name}.png`, p))}
        >
          PNG
        </Quiet>
        <Quiet type="button" disabled={isEmpty} onClick={() => saveFile(`${name}.csv`, csv())}>
          CSV
        </Quiet>
        <Quiet
          type="button"
          disabled={isEmpty || !isDrawn}
          onClick={() => withPicture((p) => printPicture(p, title || name))}
        >
          Print
        </Quiet>
      </Flex>
      <Flex flex="1" minH="0" gap="2" role="tabpanel" aria-label={name}>
        <ControlColumn>{controls}</ControlColumn>
        <Flex direction="column" flex="1" minW="0">
          <Flex flex="1" minH="0">
            <Box flex="1" minW="0">
              {isEmpty ? (
                <EmptyChart words={empty ?? ""} />
              ) : (
                children({ title, ranges, setRanges, onReady: camera.load })
              )}
            </Box>
            {!isEmpty && aside}
          </Flex>
          <Text
            pb="1"
            color="quiet"
            truncate
            title={typeof note === "string" ? note : undefined}
            data-testid="chart-note"
          >
            {note}
          </Text>
        </Flex>
      </Flex>
    </Flex>
  );
}

function EmptyChart({ words }: { readonly words: string }) {
  return (
    <Flex height="100%" align="center" justify="center" px="4">
      <Text color="quiet" maxW="26rem" textAlign="center">
        {words}
      </Text>
    </Flex>
  );
}
