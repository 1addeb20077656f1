"use client";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { type ReactNode, useState } from "react";
import { Toaster } from "sonner";

/** What every page stands in: queries, tooltips, notices. */
export function Frame({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({ defaultOptions: { queries: { retry: 5, retryDelay: (n) => Math.min(2000, 200 * 2 ** n), refetchOnWindowFocus: false } } }),
  );
  return (
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={350}>{children}</Tooltip.Provider>
      <Toaster
        position="bottom-left"
        offset={{ bottom: "calc(var(--foot, 0px) + 12px)", left: 12 }}
        duration={5000}
        toastOptions={{
          style: {
            background: "var(--color-raised)",
            border: "1px solid var(--color-line)",
            color: "var(--color-bone)",
            fontFamily: "var(--font-sans)",
            fontSize: 13,
            width: 222,
            padding: 12,
            flexWrap: "wrap",
          },
        }}
      />
    </QueryClientProvider>
  );
}
