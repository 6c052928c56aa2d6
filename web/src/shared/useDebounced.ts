import { useEffect, useState } from "react";

import { useBusy } from "./busyStore";

/** A value once it has stayed the same for a while; compared as JSON. */
export function useDebounced<T>(value: T, pauseMs: number): T {
  const text = JSON.stringify(value);
  const [settled, setSettled] = useState(text);
  useBusy(text !== settled);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), pauseMs);
    return () => clearTimeout(timer);
  }, [text, pauseMs]);
  return JSON.parse(settled) as T;
}
