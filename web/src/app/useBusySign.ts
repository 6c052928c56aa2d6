import { useIsFetching, useIsMutating } from "@tanstack/react-query";
import { useEffect } from "react";

import { useBusyStore } from "../shared/busyStore";

/** `data-busy` on the body: whether anything that was asked for is still on its way. */
export function useBusySign(): void {
  const requests = useIsFetching() + useIsMutating();
  const others = useBusyStore((store) => store.busy.size);
  const busy = requests + others > 0;
  useEffect(() => {
    document.body.dataset["busy"] = String(busy);
  }, [busy]);
}
