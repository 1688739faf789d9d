import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Problem } from "../base/api/client";
import { useNotice } from "../base/ui/notices";

/**
 * Keeps the answers of the server for all that is below. What fails and says so nowhere else is told at the foot of the
 * page.
 */
export function Queries({ children }: { children: ReactNode }) {
  const notice = useNotice();
  const [client] = useState(
    () =>
      new QueryClient({
        mutationCache: new MutationCache({
          onError: (e, _what, _before, { meta }) => !meta?.beside && notice({ text: e.message }),
        }),
        defaultOptions: {
          queries: {
            staleTime: 5000,
            retry: (n, e) => n < 3 && e instanceof Problem && (e.status === 0 || e.status >= 500),
          },
        },
      }),
  );
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>;
}
