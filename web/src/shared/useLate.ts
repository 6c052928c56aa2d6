import { useEffect, useState } from "react";

/** True once something has been so for a while: what is quick needs no word. */
export function useLate(on: boolean, afterMs = 300): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    if (!on) return;
    const timer = setTimeout(() => setLate(true), afterMs);
    return () => {
      clearTimeout(timer);
      setLate(false);
    };
  }, [on, afterMs]);
  return on && late;
}
