import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { body, client } from "../client";
import type { CatalogueQuery, FoundScene } from "../types";
import { keys } from "./keys";

export function useCatalogues() {
  return useQuery({
    queryKey: keys.catalogues,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/catalogues")),
  });
}

export function useSearchCatalogue(studyId: number) {
  return useMutation({
    meta: { quiet: true },
    retry: false,
    mutationFn: (query: CatalogueQuery) =>
      body(
        client.POST("/api/studies/{study_id}/catalogue-search", {
          params: { path: { study_id: studyId } },
          body: query,
        }),
      ),
  });
}

interface Order {
  address: string;
  scenes: FoundScene[];
}

/** Fetch scenes into the study, one run each. */
export function useTakeFromCatalogue(studyId: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ address, scenes }: Order) =>
      body(
        client.POST("/api/studies/{study_id}/catalogue-takes", {
          params: { path: { study_id: studyId } },
          body: {
            address,
            scenes: scenes.map(({ collection, id, title }) => ({ collection, id, title })),
          },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.runs(studyId) }),
  });
}
