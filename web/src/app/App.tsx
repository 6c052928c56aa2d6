import { ChakraProvider } from "@chakra-ui/react";
import { QueryClientProvider } from "@tanstack/react-query";
import { useState } from "react";
import { RouterProvider } from "react-router";

import { makeQueryClient } from "../api/queryClient";
import { tellProblem } from "../shared/notices";
import { Notices } from "./Notices";
import { router } from "./routes";
import { system } from "./theme";
import { useTheme } from "./useTheme";

export function App() {
  const [queries] = useState(() => makeQueryClient(tellProblem));
  useTheme();
  return (
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
        <Notices />
      </QueryClientProvider>
    </ChakraProvider>
  );
}
