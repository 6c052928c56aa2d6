import { Problem, toProblem } from "./problem";

const PIECE_BYTES = 32 * 1024 * 1024;
const TRIES = 6;
const PAUSE_MS = 1_500;

export interface UploadFile {
  /** Path inside the delivery, folders included. */
  path: string;
  file: File;
}

export interface UploadNews {
  path: string;
  sent: number;
  sha256: string | null;
}

/**
 * Send a file piece by piece. After a broken connection the server is asked how much has arrived,
 * and sending goes on from there.
 */
export async function uploadFile(
  deliveryId: number,
  { path, file }: UploadFile,
  tell: (news: UploadNews) => void,
  signal: AbortSignal,
): Promise<void> {
  let offset = 0;
  let failures = 0;
  let whole = false;
  while (!whole) {
    try {
      const from = offset;
      const answer = await sendPiece(deliveryId, path, file, from, signal, (sent) =>
        tell({ path, sent: from + sent, sha256: null }),
      );
      failures = 0;
      offset = answer.received;
      whole = answer.whole;
      tell({ path, sent: offset, sha256: null });
    } catch (error) {
      if (!(error instanceof Problem) || error.status !== 0 || ++failures > TRIES) throw error;
      await pause(PAUSE_MS * failures, signal);
      const known = await askReceived(deliveryId, path, signal).catch(() => null);
      offset = known?.received ?? offset;
      whole = known?.whole ?? false;
    }
  }
  const { sha256 } = await askReceived(deliveryId, path, signal);
  tell({ path, sent: file.size, sha256 });
}

interface Received {
  received: number;
  whole: boolean;
  sha256: string | null;
}

/** With XMLHttpRequest, since `fetch` does not tell how much has been sent. */
function sendPiece(
  deliveryId: number,
  path: string,
  file: File,
  offset: number,
  signal: AbortSignal,
  tell: (sent: number) => void,
): Promise<Received> {
  const query = new URLSearchParams({ path, offset: `${offset}`, size: `${file.size}` });
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const stop = () => request.abort();
    request.open("PUT", `/api/deliveries/${deliveryId}/file?${query}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => tell(event.loaded);
    request.onload = () => {
      if (request.status < 300) resolve(JSON.parse(request.responseText) as Received);
      else void toProblem(new Response(request.responseText, request)).then(reject);
    };
    request.onerror = () =>
      reject(new Problem(0, "unreachable", "The connection broke. What was sent is kept."));
    request.onabort = () => reject(new DOMException("Stopped.", "AbortError"));
    request.onloadend = () => signal.removeEventListener("abort", stop);
    signal.addEventListener("abort", stop);
    request.send(file.slice(offset, offset + PIECE_BYTES));
  });
}

async function askReceived(
  deliveryId: number,
  path: string,
  signal: AbortSignal,
): Promise<Received> {
  const query = new URLSearchParams({ path });
  const answer = await fetch(`/api/deliveries/${deliveryId}/received?${query}`, { signal });
  if (!answer.ok) throw await toProblem(answer);
  return (await answer.json()) as Received;
}

function pause(ms: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms);
    signal.addEventListener("abort", () => {
      clearTimeout(timer);
      reject(new DOMException("Stopped.", "AbortError"));
    });
  });
}
