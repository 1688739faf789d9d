import { useState } from "react";
import { local } from "../../base/storage/local";
import type { Finding, KeptReceiver, Sending } from "../../base/api/client";
import { sizeOf } from "../../base/format";
import { Button, Panel } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { numberOf, Sent } from "./Sent";
import { parcelFile, useParcel, useReceivers, useSendings } from "./useReceivers";

const last = "raconte-receiver";

/** What will go where, as it will be there, and the button that sends it. */
export function SendTo(props: {
  id: string;
  seq: number;
  saved: boolean;
  findings: Finding[];
  to?: string;
  onDone: () => void;
}) {
  const { id, seq, saved, findings } = props;
  const receivers = useReceivers();
  const { list, send, stop } = useSendings(id);
  const [picked, setPicked] = useState(props.to ?? local.taste(last) ?? "");
  const all = receivers.data ?? [];
  const chosen = all.find((r) => r.id === picked) ?? all[0];
  const sending = list.data?.find((n) => n.receiver === chosen?.id);
  const goes = sending?.state === "waiting" || sending?.state === "working";
  const parcel = useParcel(id, chosen?.id ?? "", seq);
  const over = (parcel.data?.over.length ?? 0) > 0;
  const go = () => {
    if (!chosen) return;
    local.set(last, chosen.id);
    send.mutate(chosen.id);
  };
  return (
    <Panel title="Send" wide onDone={props.onDone}>
      {receivers.isPending && <Loading what="the receivers" />}
      {receivers.error && <Failed error={receivers.error} again={() => void receivers.refetch()} />}
      {receivers.data?.length === 0 && (
        <p>
          There are no receivers yet. An administrator sets them up under Setup, Receivers: a tracker, a chat, a mailbox
          or a folder. Until then a file, a copy or a link takes it anywhere.
        </p>
      )}
      {chosen && (
        <div className="grid gap-5 md:grid-cols-[14rem_minmax(0,1fr)]">
          <div role="radiogroup" aria-label="Where it goes" className="space-y-1">
            {all.map((r) => (
              <Choice
                key={r.id}
                receiver={r}
                sending={list.data?.find((n) => n.receiver === r.id)}
                chosen={r === chosen}
                onChoose={() => setPicked(r.id)}
              />
            ))}
          </div>
          <div className="min-w-0">
            {parcel.isPending && <Loading what="what will go" />}
            {parcel.error && <Failed error={parcel.error} again={() => void parcel.refetch()} />}
            {parcel.data && (
              <>
                <Preview id={id} receiver={chosen} parcel={parcel.data} seq={seq} />
                {parcel.data.left && <p className="mt-2 text-sm">{parcel.data.left}</p>}
                {over && (
                  <div role="alert" className="mt-3 border-l-[3px] border-mustfix pl-3">
                    <p className="font-bold">It does not fit {shown(chosen.name)}.</p>
                    {parcel.data.over.map((o) => (
                      <p key={o}>{o}</p>
                    ))}
                    <Instead id={id} seq={seq} others={all.filter((r) => r !== chosen)} onChoose={setPicked} />
                  </div>
                )}
              </>
            )}
            {findings.length > 0 && (
              <ul className="mt-3 list-disc pl-5 text-sm text-soft" aria-label="Worth a look before it goes">
                {findings.slice(0, 5).map((f) => (
                  <li key={f.rule + (f.figure ?? f.block ?? "")}>{f.title}</li>
                ))}
                {findings.length > 5 && <li>and {findings.length - 5} more, in the margin</li>}
              </ul>
            )}
            {sending && <Sent of={sending} onStop={() => stop.mutate(sending.id)} />}
            {(send.error ?? stop.error) && (
              <p role="alert" className="mt-2 text-mustfix">
                {(send.error ?? stop.error)?.message}
              </p>
            )}
          </div>
        </div>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={props.onDone}>Close</Button>
        {chosen && (
          <Button
            look="main"
            autoFocus
            disabled={!parcel.data || send.isPending}
            why={
              !saved
                ? "Your last changes are still being saved."
                : over
                  ? "It does not fit: see what it is over."
                  : goes && "It is on its way already."
            }
            onClick={go}
          >
            {sending?.number ? "Send again" : "Send"}
          </Button>
        )}
      </div>
    </Panel>
  );
}

function Choice(props: { receiver: KeptReceiver; sending?: Sending; chosen: boolean; onChoose: () => void }) {
  const { receiver: r, sending, chosen } = props;
  return (
    <label
      className={`block cursor-pointer rounded border px-3 py-2 ${chosen ? "border-action bg-[#e3eef0]" : "border-line bg-paper"}`}
    >
      <span className="flex items-baseline gap-2">
        <input type="radio" name="receiver" checked={chosen} onChange={props.onChoose} />
        <b className="min-w-0 break-words">{shown(r.name)}</b>
      </span>
      <span className="block pl-5 text-sm break-words text-soft">
        {sending?.number
          ? numberOf(sending) === "there"
            ? "It is there"
            : `There as ${numberOf(sending)}`
          : shown(r.where)}
        {sending?.standing && `, ${shown(sending.standing)}`}
      </span>
    </label>
  );
}

type Parcel = NonNullable<ReturnType<typeof useParcel>["data"]>;

/** The text and the pictures as they will be there, with their sizes against what is taken. */
function Preview({ id, receiver, parcel, seq }: { id: string; receiver: KeptReceiver; parcel: Parcel; seq: number }) {
  const { takes } = receiver;
  const sum = parcel.files.reduce((n, f) => n + f.bytes, 0);
  return (
    <>
      <p className="font-bold break-words">{shown(parcel.title)}</p>
      <pre
        tabIndex={0}
        aria-label="The text as it will be"
        className="mt-1 max-h-56 overflow-auto border border-line bg-desk p-2 font-sans text-sm whitespace-pre-wrap"
      >
        {parcel.said.split("\n").map(shown).join("\n")}
      </pre>
      <p className="mt-1 text-sm text-soft">
        {parcel.form === "markdown" ? "Markdown" : parcel.form === "html" ? "HTML" : "Plain text"},{" "}
        {[...parcel.text].length} characters{takes.longestText > 0 && ` of ${takes.longestText}`}
      </p>
      {parcel.files.length > 0 && (
        <ul className="mt-2 flex flex-wrap gap-3" aria-label="Files that go with it">
          {parcel.files.map((f, i) => (
            <li key={`${i} ${f.name}`} className="w-36 text-sm">
              <a href={parcelFile(id, receiver.id, i, seq)} target="_blank" rel="noreferrer" className="block">
                {f.type.startsWith("video/") ? (
                  <video
                    controls
                    preload="none"
                    src={parcelFile(id, receiver.id, i, seq)}
                    aria-label={f.name}
                    className="max-h-40 max-w-full border border-line"
                  />
                ) : f.type.startsWith("image/") ? (
                  <img
                    src={parcelFile(id, receiver.id, i, seq)}
                    alt={f.name}
                    className="h-20 w-full border border-line bg-desk object-contain"
                  />
                ) : (
                  <span className="grid h-20 place-items-center border border-line bg-desk text-action underline">
                    {f.type === "application/pdf" ? "PDF" : "File"}
                  </span>
                )}
              </a>
              <span className="block break-words">{f.name}</span>
              <span className="block text-soft">
                {sizeOf(f.bytes)}
                {f.share < 1 && `, ${Math.round(f.share * 100)} % as wide`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {takes.pictures.length === 0 && !takes.pdf && (
        <p className="mt-2 text-sm text-soft">It takes no files: the text goes alone.</p>
      )}
      {parcel.files.length > 0 && (
        <p className="mt-1 text-sm text-soft">
          {parcel.files.length === 1 ? "1 file" : `${parcel.files.length} files`}
          {takes.mostFiles > 0 && ` of ${takes.mostFiles}`}, {sizeOf(sum)}
          {takes.largestSum > 0 && ` of ${sizeOf(takes.largestSum)}`}
          {takes.largestFile > 0 && `, each at most ${sizeOf(takes.largestFile)}`}
        </p>
      )}
    </>
  );
}

/** Other ways for what does not fit: receivers that take it, and a link. */
function Instead(props: { id: string; seq: number; others: KeptReceiver[]; onChoose: (id: string) => void }) {
  const notice = useNotice();
  const link = `${location.origin}/d/${props.id}`;
  return (
    <p className="mt-1 flex flex-wrap gap-2">
      {props.others.slice(0, 5).map((r) => (
        <Fits key={r.id} {...props} receiver={r} />
      ))}
      <Button
        small
        onClick={() =>
          void navigator.clipboard.writeText(link).then(() => notice({ text: "The link is on the clipboard." }))
        }
      >
        Copy a link instead
      </Button>
    </p>
  );
}

function Fits(props: { id: string; seq: number; receiver: KeptReceiver; onChoose: (id: string) => void }) {
  const { receiver: r } = props;
  const parcel = useParcel(props.id, r.id, props.seq);
  if (parcel.data?.over.length !== 0) return null;
  return (
    <Button small onClick={() => props.onChoose(r.id)}>
      {shown(r.name)} takes it
    </Button>
  );
}
