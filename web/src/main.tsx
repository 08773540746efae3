import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Toaster } from "sonner";
import "./app.css";
import { App } from "./app/App";
import { keepFocus } from "./ui/focus";
import { onePress } from "./ui/letters";

// An answer is drawn as soon as it is there, not a timer later.
notifyManager.setScheduler(queueMicrotask);

keepFocus();
onePress();

const client = new QueryClient({
  defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 15_000, retry: 1 } },
});

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
      <Toaster
        position="bottom-right"
        toastOptions={{
          style: {
            background: "var(--ink)",
            color: "var(--ground)",
            border: "none",
            fontFamily: "inherit",
            fontSize: 14,
          },
        }}
      />
    </QueryClientProvider>
  </StrictMode>,
);
