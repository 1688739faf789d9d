import { part } from "./ui/part";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { type Account, mayReview, Problem } from "./api/client";
import { Finished } from "./deliveries/Finished";
import { Welcome } from "./account/Welcome";
import { Deliveries } from "./deliveries/Deliveries";
import { Follow } from "./follow/Follow";
import { Library } from "./library/Library";
import { PagesView } from "./pages/PagesView";
import { Reviews } from "./review/Reviews";
import { Session } from "./session";
import "./style.css";
import { Boundary } from "./ui/Boundary";
import { Blank } from "./ui/controls";
import { Nothing } from "./ui/Nothing";
import { Notices } from "./ui/notices";

const Ask = part(() => import("./ask/Ask"), <Blank title="One moment…" />);
const Shared = part(() => import("./share/Shared"), <Blank title="One moment…" />);

/** What only those need who edit: the core, the editors, capture. Readers never load it. */
const Desk = part(() => import("./desk"), <Blank title="One moment…" />);

const queries = new QueryClient({
  defaultOptions: {
    queries: { staleTime: 5000, retry: (n, e) => n < 3 && e instanceof Problem && (e.status === 0 || e.status >= 500) },
  },
});

function Screens({ account }: { account: Account }) {
  const { pathname } = useLocation();
  return (
    <>
      <Finished />
      <Boundary key={pathname}>
        <Routes>
          <Route path="/" element={<Library account={account} />} />
          <Route path="/d/:id" element={<Follow account={account} />} />
          <Route path="/d/:id/pages" element={<PagesView account={account} />} />
          <Route path="/deliveries" element={<Deliveries account={account} />} />
          <Route path="/reviews" element={<Reviews account={account} />} />
          <Route path="*" element={mayReview(account) ? <Desk account={account} /> : <Nothing />} />
        </Routes>
      </Boundary>
    </>
  );
}

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Notices>
          <Routes>
            <Route path="/welcome/:ticket" element={<Welcome />} />
            <Route path="/s/:token" element={<Shared />} />
            <Route path="/ask/:token" element={<Ask />} />
            <Route path="*" element={<Session>{(account) => <Screens account={account} />}</Session>} />
          </Routes>
        </Notices>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
