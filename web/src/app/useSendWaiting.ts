import { useEffect, useEffectEvent, useRef } from "react";

import { useNewsStore } from "../shared/newsStore";
import { useStudyId } from "../shared/study";
import { useUnsavedSites } from "../shared/unsavedStore";
import { useSaveSite } from "../shared/useSaveSite";

/** Once the server answers again, what could not be stored meanwhile is sent by itself; sent twice,
 * it is stored once. */
export function useSendWaiting(): void {
  const studyId = useStudyId();
  const online = useNewsStore((store) => store.online);
  const wasOnline = useRef(true);
  const save = useSaveSite();
  const sendAll = useEffectEvent(() => {
    const { sites } = useUnsavedSites.getState();
    const waiting = sites.filter((site) => site.studyId === studyId && site.problem !== null);
    for (const site of waiting) void save(site);
  });
  useEffect(() => {
    if (online && !wasOnline.current) sendAll();
    wasOnline.current = online;
  }, [online]);
}
