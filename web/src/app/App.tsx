import { ChakraProvider } from "@chakra-ui/react";
import { QueryClientProvider } from "@tanstack/react-query";
import { useState } from "react";
import { RouterProvider } from "react-router";

import { makeQueryClient } from "../api/queryClient";
import { tellProblem } from "../shared/notices";
import { Notices } from "./Notices";
import { useBusySign } from "./useBusySign";
import { router } from "./routes";
import { system } from "./theme";
import { useTheme } from "./useTheme";

function BusySign() {
  useBusySign();
  return null;
}

export function App() {
  const [queries] = useState(() => makeQueryClient(tellProblem));
  useTheme();
  return (
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <BusySign />
        <RouterProvider router={router} />
        <Notices />
      </QueryClientProvider>
    </ChakraProvider>
  );
}
