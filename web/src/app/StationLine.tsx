import { Box, chakra } from "@chakra-ui/react";
import { Link } from "react-router";

import { STATIONS, type StationId, useStation } from "../shared/stations";
import { useStudyId } from "../shared/study";
import { useWork } from "../shared/workStore";
import { Bow } from "./Bow";
import { useStationState } from "./useStationState";

const Stop = chakra(Link, {
  base: {
    display: "flex",
    flexDirection: "column",
    alignItems: "center",
    justifyContent: "center",
    flex: "1",
    minH: "0",
    position: "relative",
    lineHeight: 1.25,
    color: "quiet",
    _hover: { bg: "bg.muted" },
    _currentPage: { color: "ink", fontWeight: 700 },
  },
});

/** The stations in the order of the work, as bows on a kite's tail. */
export function StationLine() {
  const studyId = useStudyId();
  const station = useStation();
  const state = useStationState();
  const set = useWork((store) => store.set);
  return (
    <Box
      as="nav"
      aria-label="Stations of the work"
      width="88px"
      flex="none"
      display="flex"
      flexDirection="column"
      position="relative"
      bg="paper"
      borderRightWidth="1px"
      borderColor="line"
    >
      <Tail />
      {STATIONS.map(({ id, title }) => (
        <Stop
          key={id}
          to={`/studies/${studyId}/${id}`}
          aria-current={id === station ? "page" : undefined}
          title={state[id].reason}
          onClick={() => set({ sheet: null, areaTool: null, layersOpen: false })}
        >
          <Bow filled={id === station} attention={state[id].reason !== undefined} />
          <StopText id={id} title={title} count={state[id].count} reason={state[id].reason} />
        </Stop>
      ))}
    </Box>
  );
}

interface TextProps {
  readonly id: StationId;
  readonly title: string;
  readonly count: string;
  readonly reason: string | undefined;
}

function StopText({ title, count, reason }: TextProps) {
  return (
    <>
      <chakra.span bg="paper" px="1">
        {title}
      </chakra.span>
      <chakra.span bg="paper" px="1" fontWeight="400" fontSize="0.92em" color="quiet" minH="1.2em">
        {count}
      </chakra.span>
      {reason !== undefined && <chakra.span srOnly>Needs attention: {reason}</chakra.span>}
    </>
  );
}

/** The string that the bows hang on. */
function Tail() {
  return (
    <chakra.svg
      position="absolute"
      inset="0"
      width="100%"
      height="100%"
      viewBox="0 0 88 800"
      preserveAspectRatio="none"
      pointerEvents="none"
      aria-hidden
    >
      <path
        d="M44 0c-14 60 12 90 0 150s-10 90 0 150 12 90 0 150-12 100 0 160 10 110 0 190"
        fill="none"
        stroke="var(--chakra-colors-line)"
        strokeWidth="1.6"
        vectorEffect="non-scaling-stroke"
      />
    </chakra.svg>
  );
}
