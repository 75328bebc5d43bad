import "./index.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { registerSW } from "virtual:pwa-register";
import { config } from "zod";
import { Refused } from "./api/client";
import { keepReading, restore, WORTH } from "./api/kept";
import { onSignal, signal } from "./api/signal";
import { router } from "./router";
import { newerIsHere } from "./shell/newer";

// The page may run no code that is written while it runs, and zod need not try.
config({ jitless: true });

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      // Ask even when the browser thinks it is offline: an answer that fails can be told, one that
      // waits in silence can't.
      networkMode: "always",
      gcTime: WORTH,
      // A refusal stays a refusal; only a server that did answer a moment ago is worth asking again.
      retry: (count, error) => count < 2 && error instanceof Refused && error.status === 0 && signal(),
    },
    mutations: { networkMode: "always" },
  },
});

// What failed for want of signal is asked again when there is some.
onSignal(() => {
  const unanswered = (error: unknown) => error instanceof Refused && error.status === 0;
  if (signal())
    void queries.refetchQueries({ type: "active", predicate: ({ state }) => unanswered(state.error) });
});

const root = document.getElementById("root");
if (!root) throw new Error("no root element");

// Kept sheets and records open without signal; a newer version waits until it is asked for, so that
// nothing half written is lost to it.
const renew = registerSW({ immediate: true, onNeedRefresh: () => newerIsHere(() => void renew(true)) });

await restore(queries, __API_SHAPE__);
keepReading(queries, __API_SHAPE__);
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
