import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { ApiError } from "./api/client";
import { reloadIfRenewed } from "./api/release";
import { App } from "./app/App";
import { Caught } from "./app/Caught";
import "./styles.css";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 1000,
      retry: (count, error) => error instanceof ApiError && error.unreachable && count < 2,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

// Once everything is there, the page is kept for a reload without a server.
if ("serviceWorker" in navigator && import.meta.env.PROD)
  window.addEventListener("load", () => void navigator.serviceWorker.register("sw.js"));

// A part of the page that is not there: where a newer release is served, the page is loaded anew.
// Without a server it stays, with what is typed in it.
window.addEventListener("vite:preloadError", () => void reloadIfRenewed());

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <Caught>
          <App />
        </Caught>
      </QueryClientProvider>
    </StrictMode>,
  );
