/** What the server says went wrong (RFC 9457); the message is a sentence to show. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
  ) {
    super(sentence);
    this.name = "Problem";
  }
}

const FALLBACK = "The server could not answer that. Nothing is lost; try again.";

export async function toProblem(response: Response): Promise<Problem> {
  try {
    const told = (await response.json()) as { type?: unknown; detail?: unknown };
    const code = typeof told.type === "string" ? told.type.replace("urn:kitesort:", "") : "unknown";
    const sentence = typeof told.detail === "string" ? told.detail : FALLBACK;
    return new Problem(response.status, code, sentence);
  } catch {
    return new Problem(response.status, "unknown", FALLBACK);
  }
}

export function sentenceOf(error: unknown): string {
  return error instanceof Problem ? error.message : FALLBACK;
}
