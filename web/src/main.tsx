import { QueryClient, QueryClientProvider, useQuery, useQueryClient } from "@tanstack/react-query";
import { StrictMode, useEffect } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { enter } from "./account/storage";
import { api, expect, mayEdit, Problem } from "./api/client";
import { Capture } from "./capture/Capture";
import { ContactSheet } from "./capture/ContactSheet";
import { Finder } from "./capture/Finder";
import { Picture } from "./capture/Picture";
import { ShotStage } from "./capture/ShotStage";
import { loadCore } from "./core/core";
import { Follow } from "./follow/Follow";
import { Deleted } from "./library/Deleted";
import { Library } from "./library/Library";
import { Manuscript } from "./manuscript/Manuscript";
import { resumeDrafts } from "./manuscript/useDraft";
import { outbox } from "./outbox/outbox";
import { PagesView } from "./pages/PagesView";
import { Setup } from "./setup/Setup";
import { SignIn } from "./signin";
import "./style.css";
import { Blank, Button, Notices } from "./ui/controls";

const queries = new QueryClient({
  defaultOptions: {
    queries: { staleTime: 5000, retry: (n, e) => n < 3 && e instanceof Problem && (e.status === 0 || e.status >= 500) },
  },
});

function App() {
  const client = useQueryClient();
  const session = useQuery({
    queryKey: ["session"],
    queryFn: () => expect(api.GET("/api/session")),
    staleTime: Infinity,
  });
  const account = session.data;
  const edits = account && mayEdit(account);
  if (account) enter(account.id); // before anything is read of what this browser keeps
  useEffect(() => {
    if (!edits) return;
    void loadCore() // warm it up while the library is read
      .then(() => outbox.start())
      .then(() => resumeDrafts(account));
  }, [edits, account]);
  if (account) {
    return (
      <Routes>
        <Route path="/" element={<Library account={account} />} />
        <Route path="/d/:id" element={<Follow account={account} />} />
        <Route path="/d/:id/pages" element={<PagesView account={account} />} />
        {edits && <Route path="/capture" element={<Capture account={account} />} />}
        {edits && <Route path="/capture/shots" element={<Finder account={account} />} />}
        {edits && <Route path="/capture/:id" element={<ContactSheet account={account} />} />}
        {edits && <Route path="/picture" element={<Picture account={account} />} />}
        {edits && <Route path="/shot/:id" element={<ShotStage account={account} />} />}
        {edits && <Route path="/deleted" element={<Deleted account={account} />} />}
        {edits && <Route path="/setup" element={<Setup account={account} />} />}
        {edits && <Route path="/d/:id/write" element={<Manuscript account={account} />} />}
        <Route
          path="*"
          element={
            <Blank title="There is nothing at this address">
              <a className="text-action underline" href="/">
                Go to the library
              </a>
            </Blank>
          }
        />
      </Routes>
    );
  }
  if (session.error instanceof Problem && session.error.status === 401) {
    return <SignIn onDone={(a) => client.setQueryData(["session"], a)} />;
  }
  if (session.error) {
    return (
      <Blank title="Raconte can't be reached">
        <p className="mb-4">{session.error.message}</p>
        <Button onClick={() => void session.refetch()}>Try again</Button>
      </Blank>
    );
  }
  return <Blank title="One moment…" />;
}

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Notices>
          <App />
        </Notices>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
