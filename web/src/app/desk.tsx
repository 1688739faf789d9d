import { part } from "../base/ui/part";
import { Route, Routes } from "react-router";
import { begin } from "../parts/account/begin";
import { KeepsNothing } from "../parts/account/KeepsNothing";
import { type Account, mayAdminister, mayEdit } from "../base/api/client";
import { Changes } from "../places/changes/Changes";
import { Capture } from "../places/capture/Capture";
import { ContactSheet } from "../places/capture/ContactSheet";
import { Finder } from "../places/capture/Finder";
import { Picture } from "../places/capture/Picture";
import { ShotStage } from "../places/capture/ShotStage";
import { CoreGate } from "../base/ui/CoreGate";
import { Deleted } from "../places/library/Deleted";
import { Manuscript } from "../places/write/Manuscript";
import { StyleEditor } from "../places/styles/StyleEditor";
import { People } from "../places/people/People";
import { Trail } from "../places/people/Trail";
import { Receivers } from "../places/receivers/Receivers";
import { Reports } from "../places/reports/Reports";
import { ReviewPage } from "../places/review/ReviewPage";
import { AllLinks } from "../places/links/AllLinks";
import { Setup } from "../places/setup/Setup";
import { Nothing } from "../base/ui/Nothing";

const FilmPlanView = part(() => import("../places/film/FilmPlanView"));
const TemplateEditor = part(() => import("../places/templates/TemplateEditor"));

/** The screens of those who edit, and of those who review. */
export default function Desk({ account }: { account: Account }) {
  begin(account); // before anything is read of what this browser keeps
  if (!mayEdit(account))
    return (
      <CoreGate>
        <Routes>
          <Route path="/d/:id/changes" element={<Changes account={account} />} />
          <Route path="/d/:id/review" element={<ReviewPage account={account} />} />
          <Route path="*" element={<Nothing />} />
        </Routes>
      </CoreGate>
    );
  return (
    <CoreGate>
      <KeepsNothing />
      <Routes>
        <Route path="/capture" element={<Capture account={account} />} />
        <Route path="/capture/shots" element={<Finder account={account} />} />
        <Route path="/capture/:id" element={<ContactSheet account={account} />} />
        <Route path="/picture" element={<Picture account={account} />} />
        <Route path="/reports" element={<Reports account={account} />} />
        <Route path="/shot/:id" element={<ShotStage account={account} />} />
        <Route path="/deleted" element={<Deleted account={account} />} />
        <Route path="/setup/*" element={<Setup account={account} />} />
        {mayAdminister(account) && <Route path="/setup/people" element={<People account={account} />} />}
        {mayAdminister(account) && <Route path="/setup/receivers" element={<Receivers account={account} />} />}
        {mayAdminister(account) && <Route path="/setup/links" element={<AllLinks account={account} />} />}
        {mayAdminister(account) && <Route path="/setup/trail" element={<Trail account={account} />} />}
        <Route path="/styles/:id" element={<StyleEditor account={account} />} />
        <Route path="/templates/:id" element={<TemplateEditor account={account} />} />
        <Route path="/d/:id/changes" element={<Changes account={account} />} />
        <Route path="/d/:id/review" element={<ReviewPage account={account} />} />
        <Route path="/d/:id/film" element={<FilmPlanView account={account} />} />
        <Route path="/d/:id/write" element={<Manuscript account={account} />} />
        <Route path="*" element={<Nothing />} />
      </Routes>
    </CoreGate>
  );
}
