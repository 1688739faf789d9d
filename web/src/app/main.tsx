import { part } from "../base/ui/part";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes, useLocation } from "react-router";
import { type Account, mayReview } from "../base/api/client";
import { Finished } from "../parts/deliveries/Finished";
import { Welcome } from "../places/welcome/Welcome";
import { Deliveries } from "../places/deliveries/Deliveries";
import { Follow } from "../places/read/Follow";
import { Library } from "../places/library/Library";
import { PagesView } from "../places/pages/PagesView";
import { Reviews } from "../places/reviews/Reviews";
import { Queries } from "./queries";
import { Session } from "./session";
import "./style.css";
import { Boundary } from "../base/ui/Boundary";
import { Blank } from "../base/ui/controls";
import { Nothing } from "../base/ui/Nothing";
import { Notices } from "../base/ui/notices";
import { KeyList } from "../parts/account/KeyList";
import { sure } from "../base/typed";

const Ask = part(() => import("../places/ask/Ask"), <Blank title="One moment…" />);
const Shared = part(() => import("../places/shared/Shared"), <Blank title="One moment…" />);

/** What only those need who edit: the core, the editors, capture. Readers never load it. */
const Desk = part(() => import("./desk"), <Blank title="One moment…" />);

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

createRoot(sure(document.getElementById("root"))).render(
  <StrictMode>
    <BrowserRouter>
      <Notices>
        <Queries>
          <KeyList />
          <Routes>
            <Route path="/welcome/:ticket" element={<Welcome />} />
            <Route path="/s/:token" element={<Shared />} />
            <Route path="/ask/:token" element={<Ask />} />
            <Route path="*" element={<Session>{(account) => <Screens account={account} />}</Session>} />
          </Routes>
        </Queries>
      </Notices>
    </BrowserRouter>
  </StrictMode>,
);
