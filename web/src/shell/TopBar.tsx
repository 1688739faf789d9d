import { useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, NavLink, useNavigate } from "react-router";
import { type Account, api, mayEdit } from "../api/client";
import { useShots } from "../shots/use";
import { Actions } from "../ui/controls";

export function TopBar({ account, children }: { account: Account; children?: ReactNode }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const signOut = async () => {
    await api.DELETE("/api/session");
    client.clear();
    await navigate("/");
    location.reload();
  };
  return (
    <header className="on-dark sticky top-0 z-20 flex h-12 items-center gap-4 bg-ink px-4 text-paper print:hidden">
      <Link to="/" className="text-lg font-bold tracking-tight" aria-label="Raconte, to the library">
        racont<span className="text-call">e</span>
      </Link>
      <div className="flex min-w-0 flex-1 items-center gap-3">{children}</div>
      <Actions
        className="rounded px-2 py-1 text-mist hover:bg-deep"
        choices={[{ label: "Sign out", run: () => void signOut() }]}
      >
        <span className="sr-only">Account of </span>
        <span className="max-sm:sr-only">{account.displayName}</span>
        <span aria-hidden className="sm:hidden">
          {initials(account.displayName)}
        </span>
      </Actions>
    </header>
  );
}

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((part) => part[0])
    .join("");

/** The places of one document. */
export function DocumentTabs({ id, account }: { id: string; account: Account }) {
  const tabs = [
    ...(mayEdit(account) ? [{ to: `/d/${id}/write`, name: "Write" }] : []),
    { to: `/d/${id}/pages`, name: "Pages" },
    { to: `/d/${id}`, name: "Follow" },
  ];
  return <Tabs label="Views of this document" tabs={tabs} />;
}

export function StateBadge({ state, revision }: { state: string; revision: number }) {
  const text =
    state === "ready" ? `Ready, revision ${revision}` : revision > 0 ? `Draft after revision ${revision}` : "Draft";
  return <span className="rounded border border-soft px-2 py-0.5 text-sm whitespace-nowrap text-mist">{text}</span>;
}

/** The places of the application. */
export function Places({ account }: { account: Account }) {
  const places = [
    { to: "/", name: "Library" },
    ...(mayEdit(account)
      ? [
          { to: "/capture", name: "Capture" },
          { to: "/picture", name: "Picture" },
          { to: "/setup", name: "Setup" },
        ]
      : []),
  ];
  return (
    <>
      <Tabs label="Places" tabs={places} />
      {mayEdit(account) && <Waiting />}
    </>
  );
}

/** Says where shots wait for the server; they go up whichever place is looked at. */
function Waiting() {
  const { waiting, trouble } = useShots();
  if (waiting === 0 || !trouble) return null;
  return (
    <span role="status" className="truncate text-sm text-call">
      {trouble}. {waiting === 1 ? "1 shot waits" : `${waiting} shots wait`} in this browser.
    </span>
  );
}

function Tabs({ label, tabs }: { label: string; tabs: { to: string; name: string }[] }) {
  return (
    <nav aria-label={label} className="flex h-12 items-stretch">
      {tabs.map((t) => (
        <NavLink
          key={t.to}
          to={t.to}
          end={t.to !== "/capture"}
          className={({ isActive }) =>
            `flex items-center border-b-[3px] px-3 pt-[3px] ${isActive ? "border-call font-bold text-paper" : "border-transparent text-mist hover:text-paper"}`
          }
        >
          {t.name}
        </NavLink>
      ))}
    </nav>
  );
}
