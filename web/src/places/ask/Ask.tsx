import { bytes } from "../../base/api/bytes";
import { beside } from "../../base/api/beside";
import { ask } from "../../base/api/ask";
import { secret } from "../../base/api/secret";
import { part } from "../../base/ui/part";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, expect, type Figure } from "../../base/api/client";
import { newID } from "../../base/api/id";
import { visit } from "../../base/api/visit";
import { CoreGate } from "../../base/ui/CoreGate";
import { Door } from "../../parts/account/signin";
import { isPicture, useArriving } from "../../base/ui/arriving";
import { Button, ChooseFiles, Field } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { useTitle } from "../../base/ui/title";
import { parsed } from "../../base/typed";

const Marking = part(() => import("./Marking"));

/** A picture of a request: where it is on this page, how large it is, and what was marked on it. */
export type Held = { figure: Figure; blob: Blob; address: string; size: { w: number; h: number } };

const mostPictures = 5;
const mostBytes = 10 * 1024 * 1024;
const urgencies = ["I can’t work", "Today", "This week", "When there is time"];

/** Someone without an account asks for help: a picture, marked, a few lines, sent. */
export default function Ask() {
  const { token = "" } = useParams();
  const path = { token };
  useTitle("Ask for help");
  const door = useQuery({ ...ask("/api/door/{token}", { path }), retry: false });
  const [said, setSaid] = useState({ name: "", mail: "", reach: "", wanted: "", wrong: "", tried: "", urgent: "" });
  const [pictures, setPictures] = useState<Held[]>([]);
  const [marking, setMarking] = useState<string>();
  const [problem, setProblem] = useState("");
  // The same however often it is sent, so that it is kept once.
  const [ids] = useState(() => ({ id: newID(), follow: secret() }));
  const [sent, setSent] = useState(() => sentBefore(token));
  const bring = async (files: File[]) => {
    setProblem("");
    for (const file of files) {
      if (!isPicture(file)) return setProblem(`${file.name} is no picture.`);
      if (file.size > mostBytes) return setProblem("A picture has at most 10 MB.");
      try {
        const { width, height } = await createImageBitmap(file);
        const figure: Figure = { id: newID(), shot: newID(), alt: "", marks: [] };
        const held = { figure, blob: file, address: URL.createObjectURL(file), size: { w: width, h: height } };
        setPictures((all) => (all.length < mostPictures ? [...all, held] : all));
      } catch {
        setProblem("This picture can’t be read. Take a screenshot of it instead.");
      }
    }
  };
  useArriving({ onPaste: (files) => void bring(files), onDrop: (files) => void bring(files) });
  const send = useMutation({
    ...beside,
    mutationFn: async () => {
      for (const p of pictures) {
        await expect(
          api.PUT("/api/door/{token}/pictures/{shot}", {
            params: { path: { token, shot: p.figure.shot } },
            ...bytes(p.blob),
          }),
        );
      }
      await expect(
        api.POST("/api/door/{token}", {
          params: { path },
          body: { ...ids, ...said, pictures: pictures.map((p) => p.figure) },
        }),
      );
    },
    onSuccess: () => {
      const now = { follow: ids.follow, mail: Boolean(said.mail), wrong: said.wrong };
      visit.set(sentKey(token), JSON.stringify(now));
      setSent(now);
    },
  });
  if (door.error) return <Door says={door.error.message}>{null}</Door>;
  if (!door.data) return <Door says="One moment…">{null}</Door>;
  if (sent) return <Kept {...sent} onAgain={send.isSuccess ? undefined : () => setSent(undefined)} />;
  const marked = pictures.find((p) => p.figure.id === marking);
  if (marked)
    return (
      <CoreGate>
        <Marking
          held={marked}
          onChange={(figure) =>
            setPictures((all) => all.map((p) => (p.figure.id === figure.id ? { ...p, figure } : p)))
          }
          onDone={() => setMarking(undefined)}
        />
      </CoreGate>
    );
  const set = (name: keyof typeof said) => (value: string) => setSaid({ ...said, [name]: value });
  return (
    <>
      <header className="on-dark flex h-12 items-center gap-4 bg-ink px-4 text-paper">
        <span className="text-lg font-bold tracking-tight">
          racont<span className="text-call">e</span>
        </span>
        <span className="min-w-0 truncate">{shown(door.data.house)}</span>
      </header>
      <main className="mx-auto max-w-3xl px-4 py-6">
        <form
          className="space-y-4 rounded border border-line bg-paper p-6"
          onSubmit={(e) => {
            e.preventDefault();
            send.mutate();
          }}
        >
          <h1 className="text-2xl font-bold">Ask for help: {shown(door.data.name)}</h1>
          <p className="text-soft">
            Paste a picture of your screen here, and mark what you mean. A picture says more than three paragraphs.
          </p>
          <div className="flex flex-wrap items-end gap-3">
            {pictures.map((p, i) => (
              <div key={p.figure.id} className="w-44">
                <img
                  src={p.address}
                  alt={`Picture ${i + 1}`}
                  className="h-28 w-full border border-line object-contain"
                />
                <p className="mt-1 flex gap-1">
                  <Button small onClick={() => setMarking(p.figure.id)} aria-label={`Mark it: picture ${i + 1}`}>
                    Mark it
                  </Button>
                  <Button
                    small
                    aria-label={`Take out picture ${i + 1}`}
                    onClick={() => setPictures((all) => all.filter((o) => o !== p))}
                  >
                    Take out
                  </Button>
                </p>
              </div>
            ))}
            {pictures.length < mostPictures && (
              <ChooseFiles label="Add a picture" accept="image/*" many onFiles={(f) => void bring(f)} />
            )}
          </div>
          <Lines label="What goes wrong" value={said.wrong} onChange={set("wrong")} needed />
          <Lines label="What you want to do" value={said.wanted} onChange={set("wanted")} />
          <Lines label="What you have tried" value={said.tried} onChange={set("tried")} />
          <div className="grid gap-3 sm:grid-cols-2">
            <Field label="Your name" value={said.name} onChange={set("name")} autoComplete="name" />
            <Field label="How to reach you: telephone, place" value={said.reach} onChange={set("reach")} />
            <Field
              label="Your e-mail address, if you want to be told"
              value={said.mail}
              onChange={set("mail")}
              autoComplete="email"
            />
            <label className="block">
              <span className="mb-1 block text-sm text-soft">How urgent it is</span>
              <select
                value={said.urgent}
                onChange={(e) => set("urgent")(e.target.value)}
                className="w-full rounded border border-soft bg-paper px-3 py-2"
              >
                <option value="">Not said</option>
                {urgencies.map((u) => (
                  <option key={u}>{u}</option>
                ))}
              </select>
            </label>
          </div>
          {(problem || send.error) && (
            <p role="alert" className="text-mustfix">
              {problem || `${send.error?.message} What you wrote is still here.`}
            </p>
          )}
          <div className="flex items-center gap-3">
            <Button
              look="main"
              type="submit"
              disabled={send.isPending}
              why={(!said.wrong.trim() && "Say what goes wrong.") || (!said.name.trim() && "Say who you are.")}
            >
              {send.isPending ? "Sending …" : "Send"}
            </Button>
            <span className="text-sm text-soft">Your name and what goes wrong are enough.</span>
          </div>
        </form>
      </main>
    </>
  );
}

const Lines = (props: { label: string; value: string; needed?: boolean; onChange: (value: string) => void }) => (
  <label className="block">
    <span className="mb-1 block text-sm text-soft">{props.label}</span>
    <textarea
      rows={2}
      maxLength={2000}
      required={props.needed}
      value={props.value}
      onChange={(e) => props.onChange(e.target.value)}
      className="w-full rounded border border-soft px-3 py-2"
    />
  </label>
);

/** What was sent through a door in this tab, so that its page still shows it after a reload. */
type Sent = { follow: string; mail: boolean; wrong: string };
const sentKey = (token: string) => `raconte sent ${token}`;

function sentBefore(token: string): Sent | undefined {
  const kept = visit.get(sentKey(token));
  return kept ? parsed<Sent>(kept) : undefined;
}

function Kept({ follow, mail, wrong, onAgain }: Sent & { onAgain?: (() => void) | undefined }) {
  const address = `${location.origin}/s/${follow}`;
  return (
    <Door says="It is sent. Somebody will look at it.">
      <blockquote className="mb-3 border-l-[3px] border-line pl-3 whitespace-pre-line">{shown(wrong)}</blockquote>
      <p className="mb-3">
        Here you see the answer, and can say more. Keep the address
        {mail ? "; you get it by mail with the answer, too" : ""}.
      </p>
      <a href={address} className="block font-bold break-all text-action underline">
        {address}
      </a>
      {onAgain && (
        <Button className="mt-4 w-full justify-center" onClick={onAgain}>
          Ask something else
        </Button>
      )}
    </Door>
  );
}
