import "./frame/base.css";

import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";

import { isConflict, isRefusal } from "./api/client";
import { askAhead } from "./app/ahead";
import { keepOnDevice } from "./app/offline";
import { router } from "./app/routes";
import { clickWhatWasPressed } from "./frame/press";
import { applyTheme } from "./frame/theme";

applyTheme();
clickWhatWasPressed();

const queries: QueryClient = new QueryClient({
  // Somebody else was here meanwhile: what is on the screen is asked for anew, so that it shows what they did.
  mutationCache: new MutationCache({
    onError: (error) => {
      if (isConflict(error)) void queries.invalidateQueries();
    },
  }),
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // A server that does not answer is asked again until it does; a browser's own opinion of it counts for nothing.
      networkMode: "always",
      retry: (_, error) => !isRefusal(error),
      retryDelay: (count) => Math.min(1000 * 2 ** count, 8000),
      // What is refused from the first has nothing to stand beside: the words stand in the place of that part.
      throwOnError: (error, query) => query.state.data === undefined && isRefusal(error),
    },
    mutations: {
      networkMode: "always",
    },
  },
});

// How what was typed goes to the server: a moment later, as the first look needs none of it.
void import("./app/senders").then(({ registerSenders }) => registerSenders(queries));
askAhead(queries);
keepOnDevice();

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
