import { part } from "./ui/part";
import { Route, Routes } from "react-router";
import { begin } from "./account/begin";
import { KeepsNothing } from "./account/KeepsNothing";
import { type Account, mayAdminister, mayEdit } from "./api/client";
import { Changes } from "./changes/Changes";
import { Capture } from "./capture/Capture";
import { ContactSheet } from "./capture/ContactSheet";
import { Finder } from "./capture/Finder";
import { Picture } from "./capture/Picture";
import { ShotStage } from "./capture/ShotStage";
import { CoreGate } from "./core/CoreGate";
import { Deleted } from "./library/Deleted";
import { Manuscript } from "./manuscript/Manuscript";
import { StyleEditor } from "./styles/StyleEditor";
import { People } from "./people/People";
import { Trail } from "./people/Trail";
import { Receivers } from "./receivers/Receivers";
import { Reports } from "./reports/Reports";
import { ReviewPage } from "./review/ReviewPage";
import { AllLinks } from "./share/AllLinks";
import { Setup } from "./setup/Setup";
import { Nothing } from "./ui/Nothing";

const FilmPlanView = part(() => import("./film/FilmPlanView"));
const TemplateEditor = part(() => import("./templates/TemplateEditor"));

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
        <Route path="/setup" element={<Setup account={account} />} />
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
