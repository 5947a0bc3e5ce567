import "@fontsource/atkinson-hyperlegible/latin-400.css";
import "@fontsource/atkinson-hyperlegible/latin-700.css";
import "@fontsource/barlow-condensed/latin-500.css";
import "@fontsource/barlow-condensed/latin-600.css";
import "@fontsource/ibm-plex-mono/latin-400.css";
import "@fontsource/ibm-plex-mono/latin-600.css";
import "./theme/base.css";
import "./theme/frame.css";
import "./theme/parts.css";
import "./theme/tables.css";
import "./theme/logs.css";
import "./theme/capture.css";
import "./theme/sheet.css";
import "./theme/grids.css";
import "./theme/narrow.css";
import { notifyManager, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { watchUnread } from "./api/unread";
import { Screens } from "./pages/Screens";
import { startWorker } from "./away/worker";
import { LookProvider } from "./theme/Look";

// What is entered is painted with the frame of its own key, not with one after it.
notifyManager.setScheduler(queueMicrotask);
// The server stands in the shop: a call is always tried, and says at once where it does not answer.
const queryCache = new QueryCache();
watchUnread(queryCache);
const client = new QueryClient({
  queryCache,
  defaultOptions: {
    queries: { retry: false, refetchOnWindowFocus: true, staleTime: 500, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});

startWorker();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <LookProvider>
        <BrowserRouter>
          <Screens />
        </BrowserRouter>
      </LookProvider>
    </QueryClientProvider>
  </StrictMode>,
);
