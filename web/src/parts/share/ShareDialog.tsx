import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, expect } from "../../base/api/client";
import { Button, Field, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { Codes } from "./Codes";
import { ShareList } from "./ShareList";

/** Links of a document for people without an account, and its codes. */
export function ShareDialog(props: { document: string; title: string; revision: number; onDone: () => void }) {
  const { document, title, revision } = props;
  const notice = useNotice();
  const path = { document };
  const list = useQuery({ ...ask("/api/documents/{document}/shares", { path }), staleTime: 0 });
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [lastDay, setLastDay] = useState("");
  const [most, setMost] = useState("");
  const [fixed, setFixed] = useState(false);
  const [comments, setComments] = useState(false);
  const [downloads, setDownloads] = useState(false);
  const [made, setMade] = useState<{ name: string; address: string; lasting: boolean }>();
  const make = async () => {
    try {
      const body = {
        name,
        password: password || undefined,
        most: Number(most) || undefined,
        revision: fixed ? revision : undefined,
        comments,
        downloads,
        ...(lastDay && { lastDay }),
      };
      const { address } = await expect(api.POST("/api/documents/{document}/shares", { params: { path }, body }));
      setMade({ name, address, lasting: downloads && !password && !body.most });
      setName("");
      setPassword("");
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  const tick = (label: string, on: boolean, set: (on: boolean) => void) => (
    <label className="flex items-center gap-2">
      <input type="checkbox" className="size-4" checked={on} onChange={(e) => set(e.target.checked)} />
      {label}
    </label>
  );
  return (
    <Panel title="Share" wide onDone={props.onDone}>
      <div className="max-h-[70vh] space-y-5 overflow-y-auto pr-2 pl-1 -ml-1">
        <section aria-labelledby="for-members">
          <h3 id="for-members" className="mb-1 font-bold">
            For people with an account
          </h3>
          <Address address={`${location.origin}/d/${document}`} />
          <Codes address={`${location.origin}/d/${document}`} name={title} />
        </section>
        <section aria-labelledby="for-guests">
          <h3 id="for-guests" className="mb-1 font-bold">
            A link for people without an account
          </h3>
          {revision === 0 ? (
            <p className="text-soft">Nothing is valid yet that could be shared. Release the document first.</p>
          ) : made ? (
            <div role="status" className="border-l-[3px] border-call pl-3">
              <p className="mb-1">The link for {made.name}. Its address is shown this once: copy it now.</p>
              <Address address={made.address} />
              <Codes address={made.address} name={`${title}, ${made.name}`} />
              {made.lasting && (
                <>
                  <p className="mt-2 mb-1">The valid PDF is always at</p>
                  <Address address={`${made.address.replace("/s/", "/api/shared/")}/pdf`} />
                </>
              )}
              <Button className="mt-2" onClick={() => setMade(undefined)}>
                Make another
              </Button>
            </div>
          ) : (
            <form
              className="space-y-3"
              onSubmit={(e) => {
                e.preventDefault();
                void make();
              }}
            >
              <div className="grid gap-3 sm:grid-cols-2">
                <Field label="Whom or what it is for" value={name} onChange={setName} autoFocus />
                <Field
                  label="Password, if one is to be asked for"
                  value={password}
                  onChange={setPassword}
                  autoComplete="new-password"
                />
                <Field label="Last day (empty: no end)" type="date" value={lastDay} onChange={setLastDay} />
                <Field label="Opened at most so many times" type="number" value={most} onChange={setMost} />
              </div>
              <div className="flex flex-wrap gap-x-6 gap-y-1">
                {tick("They may comment", comments, setComments)}
                {tick("They may take the PDF", downloads, setDownloads)}
                {tick(`Always revision ${revision}, whatever comes`, fixed, setFixed)}
              </div>
              <Button look="main" type="submit" why={!name.trim() && "Say whom it is for."}>
                Make the link
              </Button>
            </form>
          )}
        </section>
        {(list.data?.length ?? 0) > 0 && (
          <section aria-labelledby="links">
            <h3 id="links" className="mb-1 font-bold">
              Links that open it
            </h3>
            <ShareList shares={list.data ?? []} />
          </section>
        )}
      </div>
      <div className="mt-4 flex justify-end">
        <Button onClick={props.onDone}>Close</Button>
      </div>
    </Panel>
  );
}

/** An address, to be copied. */
function Address({ address }: { address: string }) {
  const notice = useNotice();
  return (
    <p className="flex items-center gap-2">
      <code
        data-address
        className="min-w-0 flex-1 overflow-x-auto rounded border border-soft px-2 py-1 font-mono text-sm whitespace-nowrap"
      >
        {address}
      </code>
      <Button
        onClick={() => {
          void navigator.clipboard.writeText(address);
          notice({ text: "Copied." });
        }}
      >
        Copy
      </Button>
    </p>
  );
}
