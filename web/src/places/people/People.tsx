import { momentOf, momentShort } from "../../base/format";
import { useState } from "react";
import { type Account, api, expect, type Invitation, type Member } from "../../base/api/client";
import { SetupPage } from "../../parts/bar/SetupPage";
import { Actions, Button, Panel } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";
import { Failed, Loading } from "../../base/ui/states";
import { HandOver } from "./HandOver";
import { PersonDialog } from "./PersonDialog";
import { usePeople } from "../../parts/house/usePeople";

type Asking = { person: Partial<Member> } | { invited: Invitation; name: string } | { handOver: Member };

/** Everybody who may sign in, for administrators. */
export function People({ account }: { account: Account }) {
  const { list, groups, attempt, notice } = usePeople();
  const [asking, setAsking] = useState<Asking>();
  const [text, setText] = useState("");
  const found = (list.data ?? []).filter((m) =>
    `${m.displayName} ${m.name} ${m.email} ${m.role}`.toLowerCase().includes(text.trim().toLowerCase()),
  );
  const path = (m: Member) => ({ params: { path: { account: m.id } } });
  const invite = async (m: Member) => {
    const invited = await attempt(expect(api.POST("/api/accounts/{account}/invitation", path(m))));
    if (invited) setAsking({ invited, name: m.displayName });
  };
  const disable = async (m: Member, disabled: boolean) => {
    await attempt(expect(api.PATCH("/api/accounts/{account}", { ...path(m), body: { disabled } })));
    if (disabled && m.owns > 0) setAsking({ handOver: m });
    else if (disabled) notice({ text: `${shown(m.displayName)} is signed out everywhere and can’t sign in.` });
  };
  const choices = (m: Member) => [
    { label: "Change", run: () => setAsking({ person: m }) },
    ...(m.disabled
      ? []
      : [{ label: m.invited ? "Invite again" : "Make a link for a new password", run: () => void invite(m) }]),
    ...(m.owns > 0 ? [{ label: "Give their documents to another", run: () => setAsking({ handOver: m }) }] : []),
    ...(m.id === account.id
      ? []
      : [
          "line" as const,
          m.disabled
            ? { label: "Let in again", run: () => void disable(m, false) }
            : { label: "Disable", run: () => void disable(m, true), danger: true },
        ]),
  ];
  return (
    <SetupPage
      account={account}
      title="People"
      act={
        <>
          <input
            type="search"
            aria-label="Find people"
            placeholder="Find by name, address or role"
            className="w-72 rounded border border-soft bg-paper px-3 py-1.5 placeholder:text-soft"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <a
            href="/api/confirmations.csv"
            download
            className="rounded border border-line bg-paper px-3 py-1.5 hover:border-soft"
          >
            Who has read what (CSV)
          </a>
          <Button look="main" onClick={() => setAsking({ person: { role: "reader", groups: [] } })}>
            Invite someone
          </Button>
        </>
      }
    >
      {list.isPending && <Loading what="the people" />}
      {list.error && <Failed error={list.error} again={() => void list.refetch()} />}
      {list.data && (
        <div className="overflow-x-auto rounded border border-line bg-paper">
          <table className="w-full text-left">
            <thead>
              <tr className="border-b border-line text-sm text-soft">
                {["Name", "Role", "Groups", "Answers for", "Last seen"].map((h) => (
                  <th key={h} scope="col" className="px-4 py-2 font-normal">
                    {h}
                  </th>
                ))}
                <td />
              </tr>
            </thead>
            <tbody>
              {found.map((m) => (
                <tr key={m.id} className={`border-b border-line last:border-0 ${m.disabled ? "text-soft" : ""}`}>
                  <th scope="row" className="px-4 py-2 font-normal">
                    <b>{shown(m.displayName)}</b>
                    <span className="block text-sm text-soft">
                      signs in as {shown(m.name)}
                      {m.email && `, ${m.email}`}
                    </span>
                  </th>
                  <td className="px-4 py-2">{m.disabled ? `disabled (was ${m.role})` : m.role}</td>
                  <td className="px-4 py-2">
                    {m.groups.map((g) => groups.data?.find((x) => x.id === g)?.name ?? "").join(", ")}
                  </td>
                  <td className="px-4 py-2 whitespace-nowrap">
                    {m.owns === 0 ? "" : m.owns === 1 ? "1 document" : `${m.owns} documents`}
                  </td>
                  <td className="px-4 py-2 whitespace-nowrap">
                    {m.invited ? "invited" : m.seenAt ? momentShort(m.seenAt) : ""}
                  </td>
                  <td className="px-2 py-2">
                    <Actions label={`What to do with ${m.displayName}`} choices={choices(m)}>
                      …
                    </Actions>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {found.length === 0 && <p className="px-4 py-6 text-soft">Nobody is called like that.</p>}
        </div>
      )}
      {asking && "person" in asking && (
        <PersonDialog
          person={asking.person}
          groups={groups.data ?? []}
          attempt={attempt}
          onDone={(invited, name = "") => setAsking(invited ? { invited, name } : undefined)}
        />
      )}
      {asking && "handOver" in asking && (
        <HandOver
          from={asking.handOver}
          people={(list.data ?? []).filter((m) => !m.disabled && m.id !== asking.handOver.id)}
          attempt={attempt}
          onDone={() => setAsking(undefined)}
        />
      )}
      {asking && "invited" in asking && (
        <Panel title={`A link for ${shown(asking.name)}`} onDone={() => setAsking(undefined)}>
          <p>
            {asking.invited.mailed
              ? "It was sent by mail. "
              : "They have no mail address here: hand it over yourself. "}
            It works once, until {momentOf(asking.invited.until)}.
          </p>
          <p className="mt-3 flex items-center gap-2">
            <code className="min-w-0 flex-1 overflow-x-auto rounded border border-soft px-2 py-1 font-mono text-sm whitespace-nowrap">
              {asking.invited.link}
            </code>
            <Button onClick={() => void navigator.clipboard.writeText(asking.invited.link)}>Copy</Button>
          </p>
          <div className="mt-5 flex justify-end">
            <Button look="main" onClick={() => setAsking(undefined)}>
              Done
            </Button>
          </div>
        </Panel>
      )}
    </SetupPage>
  );
}
