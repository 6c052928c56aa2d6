const PING_MS = 2_000;

type Listener = (online: boolean) => void;

let online = true;
const listeners = new Set<Listener>();

/** What has just been learned: an answer came, or none could be had. */
export function tellReach(answered: boolean): void {
  if (answered === online) return;
  online = answered;
  for (const listener of listeners) listener(answered);
  if (!answered) void ping();
}

/** Told whether the server answers, now and whenever that changes; the way to stop it. */
export function onReach(listener: Listener): () => void {
  listeners.add(listener);
  listener(online);
  return () => listeners.delete(listener);
}

/** Until there is an answer again, whatever it is. */
async function ping(): Promise<void> {
  while (!online) {
    await new Promise((resolve) => setTimeout(resolve, PING_MS));
    try {
      await fetch("/api/health", { cache: "no-store" });
      tellReach(true);
    } catch {
      // still away
    }
  }
}
