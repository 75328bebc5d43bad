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
      // Ask even when the browser thinks it is offline: an answer that fails can be told, one that
      // waits in silence can't.
      networkMode: "always",
      // A refusal stays a refusal; only a server that does not answer is worth asking again.
      retry: (count, error) => count < 2 && error instanceof Refused && error.status === 0,
    },
    mutations: { networkMode: "always" },
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
