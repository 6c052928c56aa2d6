import { useEffect, useEffectEvent } from "react";

import { useDeleteSite } from "../api/queries/edits";
import { useClasses } from "../api/queries/training";
import type { SiteTool } from "../map";
import { isTyping } from "../shared/isTyping";
import { isSwitchedOff } from "../shared/keyStore";
import { useStation } from "../shared/stations";
import { useStudyId } from "../shared/study";
import { useClusterInHand, useClustering } from "../shared/useClusters";
import { useTour } from "../shared/useTour";
import { useUndoing } from "../shared/useUndoing";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useWork } from "../shared/workStore";
import { useLookKeys } from "./useLookKeys";

const TOOLS: Record<string, SiteTool> = {
  c: "reshape",
  o: "outline",
  r: "rectangle",
  i: "circle",
  f: "grow",
  v: "brush",
  x: "cut",
};

/** The keys of the `?` sheet, unless something is being typed. */
export function useShortcuts(onHelp: () => void): void {
  const studyId = useStudyId();
  const station = useStation();
  const { data: classes = [] } = useClasses(studyId);
  const { undo, redo } = useUndoing();
  const remove = useDeleteSite(studyId);
  const unsaved = useUnsavedSites();
  const siteKey = useWork((store) => store.siteKey);
  const set = useWork((store) => store.set);
  const tour = useTour();
  const look = useLookKeys();
  const clustering = useClustering();
  const inHand = useClusterInHand();

  const deleteSite = () => {
    if (siteKey === null) return;
    if (siteKey.startsWith("unsaved")) unsaved.remove(siteKey);
    else remove.mutate(Number(siteKey));
    set({ siteKey: null });
  };

  const whileTraining = (event: KeyboardEvent): boolean => {
    const tool = TOOLS[event.key.toLowerCase()];
    const picked = /^[1-9]$/.test(event.key) ? classes[Number(event.key) - 1] : undefined;
    if (picked) set({ classId: picked.id });
    else if (tool) set({ tool });
    else if (event.key === "Delete") deleteSite();
    else if (event.key.toLowerCase() === "m") tour.go(event.shiftKey ? -1 : 1);
    else return false;
    return true;
  };

  const ofStation = (event: KeyboardEvent): boolean =>
    (station === "train" && whileTraining(event)) || (clustering && whileNaming(event));

  const whileNaming = (event: KeyboardEvent): boolean => {
    if (inHand.cluster === null) return false;
    const picked = /^[1-9]$/.test(event.key) ? classes[Number(event.key) - 1] : undefined;
    if (picked) inHand.call(picked.id);
    else if (event.key === "0") inHand.call(null);
    else if (event.key.toLowerCase() === "m") inHand.go(event.shiftKey ? -1 : 1);
    else return false;
    return true;
  };

  const press = useEffectEvent((event: KeyboardEvent) => {
    if (isTyping(event.target) || event.altKey || isSwitchedOff(event)) return;
    if (event.ctrlKey || event.metaKey) {
      if (event.key.toLowerCase() !== "z") return;
      (event.shiftKey ? redo : undo).go();
    } else if (event.key === "?") onHelp();
    else if (!ofStation(event) && !look(event)) return;
    event.preventDefault();
  });

  useEffect(() => {
    const listen = (event: KeyboardEvent) => press(event);
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
}
