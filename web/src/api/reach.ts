const PING_MS = 2_000;

type Listener = (online: boolean) => void;

let online = true;
let asking = false;
const listeners = new Set<Listener>();

/** Told whether the server answers, now and whenever that changes; the way to stop it. */
export function onReach(listener: Listener): () => void {
  listeners.add(listener);
  listener(online);
  return () => void listeners.delete(listener);
}

/** An answer came, whatever it was. */
export function tellAnswer(): void {
  change(true);
}

/** Something had no answer: the server is asked whether it is there, until it is. */
export async function doubtReach(): Promise<void> {
  if (asking) return;
  asking = true;
  while (!(await answers())) {
    change(false);
    await new Promise((resolve) => setTimeout(resolve, PING_MS));
  }
  asking = false;
  change(true);
}

async function answers(): Promise<boolean> {
  try {
    await fetch("/api/health", { cache: "no-store" });
    return true;
  } catch {
    return false;
  }
}

function change(now: boolean): void {
  if (now === online) return;
  online = now;
  for (const listener of listeners) listener(now);
}
