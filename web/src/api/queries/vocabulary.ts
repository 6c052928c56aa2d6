import { useQuery } from "@tanstack/react-query";

import { body, client } from "../client";
import { keys } from "./keys";

/** What bands can see, in words, with usual wavelengths. */
export function useRoles() {
  return useQuery({
    queryKey: keys.roles,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/roles")),
  });
}

/** Sensors with their bands as they are usually handed on. */
export function useSensors() {
  return useQuery({
    queryKey: keys.sensors,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/sensors")),
  });
}

/** The known role that a word probably means. */
export function useNearRole(text: string, asked: boolean) {
  return useQuery({
    queryKey: keys.nearRole(text),
    enabled: asked,
    staleTime: Infinity,
    queryFn: () => body(client.GET("/api/near-role", { params: { query: { text } } })),
  });
}

/** Whether a delivery's numbers contradict the roles that were given. */
export function useDoubts(deliveryId: number, position: number, roles: string, asked: boolean) {
  return useQuery({
    queryKey: keys.doubts(deliveryId, position, roles),
    enabled: asked,
    staleTime: Infinity,
    queryFn: () =>
      body(
        client.GET("/api/deliveries/{delivery_id}/doubts", {
          params: { path: { delivery_id: deliveryId }, query: { position, roles } },
        }),
      ),
  });
}
