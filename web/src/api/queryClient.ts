import { MutationCache, QueryClient } from "@tanstack/react-query";

import { Problem, sentenceOf } from "./problem";

type Listener = (sentence: string) => void;

/** One place decides what is tried again, and where a failed act is told. */
export function makeQueryClient(onFailedAct: Listener): QueryClient {
  return new QueryClient({
    defaultOptions: {
      // The server is on this machine: whether there is a network says nothing about it.
      queries: {
        networkMode: "always",
        staleTime: 30_000,
        retry: (count, error) => isPassing(error) && count < 4,
        retryDelay: (count) => Math.min(500 * 2 ** count, 5_000),
      },
      mutations: {
        networkMode: "always",
        retry: (count, error) => isPassing(error) && count < 2,
        retryDelay: 700,
      },
    },
    mutationCache: new MutationCache({
      onError: (error, _variables, _context, mutation) => {
        if (!mutation.meta?.["quiet"]) onFailedAct(sentenceOf(error));
      },
    }),
  });
}

/** Only what may be gone the next time is worth trying again. */
function isPassing(error: unknown): boolean {
  return !(error instanceof Problem) || error.status === 0 || error.status === 503;
}
