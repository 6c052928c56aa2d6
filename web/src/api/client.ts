import createClient, { type Middleware } from "openapi-fetch";

import { Problem, toProblem } from "./problem";
import { doubtReach, tellAnswer } from "./reach";
import type { paths } from "./schema.generated";
import { windowId } from "./windowId";

/** So that an edit is not told to the window that made it. */
const nameWindow: Middleware = {
  onRequest({ request }) {
    request.headers.set("X-Window", windowId);
    return request;
  },
};

/** Anything but a 2xx is an error; an empty 500 must not count as success. */
const throwOnProblem: Middleware = {
  async onResponse({ response }) {
    tellAnswer();
    if (!response.ok) throw await toProblem(response);
  },
  onError({ error }) {
    if (error instanceof Problem || (error instanceof Error && error.name === "AbortError")) return;
    void doubtReach();
    return new Problem(
      0,
      "unreachable",
      "The server does not answer. What you see is safe; it is tried again when it is back.",
    );
  },
};

export const client = createClient<paths>({ baseUrl: "/" });
client.use(nameWindow, throwOnProblem);

/** The body of a response that the middleware has let through. */
export async function body<T>(request: Promise<{ data?: T }>): Promise<T> {
  const { data } = await request;
  return data as T;
}
