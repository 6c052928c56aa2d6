import { useParams } from "react-router";

export const STATIONS = [
  { id: "scenes", title: "Scenes" },
  { id: "correct", title: "Correct" },
  { id: "derive", title: "Derive" },
  { id: "train", title: "Train" },
  { id: "classify", title: "Classify" },
  { id: "tidy", title: "Tidy" },
  { id: "check", title: "Check" },
  { id: "deliver", title: "Deliver" },
] as const;

export type StationId = (typeof STATIONS)[number]["id"];

export function isStation(text: string | undefined): text is StationId {
  return STATIONS.some((station) => station.id === text);
}

/** The station that the address names. */
export function useStation(): StationId {
  const { station } = useParams();
  return isStation(station) ? station : "train";
}
