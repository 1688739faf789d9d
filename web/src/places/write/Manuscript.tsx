import { Link, useParams } from "react-router";
import type { Account } from "../../base/api/client";
import { TopBar } from "../../parts/bar/TopBar";
import { Blank } from "../../base/ui/controls";
import { Loading } from "../../base/ui/states";
import { Editor } from "./Editor";
import { useDraft } from "../../parts/document/useDraft";

/** A document, to be written. */
export function Manuscript({ account }: { account: Account }) {
  const { id = "" } = useParams();
  const { opened, problem } = useDraft(id, account);
  if (problem) {
    return (
      <>
        <TopBar account={account} />
        <Blank title="This document can’t be opened">
          {problem.message}{" "}
          <Link to="/" className="text-action underline">
            Go to the library
          </Link>
        </Blank>
      </>
    );
  }
  if (!opened) {
    return (
      <>
        <TopBar account={account} />
        <main className="px-5">
          <Loading what="the document" />
        </main>
      </>
    );
  }
  return <Editor key={id} id={id} account={account} draft={opened.draft} uploads={opened.uploads} />;
}
