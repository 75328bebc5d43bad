import "./index.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Refused } from "./api/client";
import { router } from "./router";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      // A refusal stays a refusal; only a server that does not answer is worth asking again.
      retry: (count, error) => count < 2 && error instanceof Refused && error.status === 0,
    },
  },
});

const root = document.getElementById("root");
if (!root) throw new Error("no root element");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
