import { part } from "../../base/ui/part";
import { type ReactNode } from "react";
import { Link, NavLink } from "react-router";
import { stateSaid } from "../../base/api/kinds";
import { AccountMenu } from "../account/AccountMenu";
import { type Account, mayEdit } from "../../base/api/client";

const NoticesMenu = part(() => import("./NoticesMenu"));
const Waiting = part(() => import("./Waiting"));

/** Tight: the account is told by its initials where there is little room. */
export function TopBar(props: { account: Account; tight?: boolean; children?: ReactNode }) {
  const { account, tight, children } = props;
  return (
    <header className="on-dark sticky top-0 z-20 flex h-12 items-center gap-4 bg-ink px-4 text-paper print:hidden">
      <Link to="/" className="text-lg font-bold tracking-tight" aria-label="Raconte, to the library">
        racont<span className="text-call">e</span>
      </Link>
      <div className="flex min-w-0 flex-1 items-center gap-3">{children}</div>
      {mayEdit(account) && <Waiting account={account} />}

      <NoticesMenu />

      <AccountMenu account={account} tight={tight} />
    </header>
  );
}

export function StateBadge(props: { kind: string; state: string; revision: number; said?: string | undefined }) {
  const said = stateSaid(props.kind, props.state, props.revision, props.said);
  return (
    said && <span className="rounded border border-soft px-2 py-0.5 text-sm whitespace-nowrap text-mist">{said}</span>
  );
}

/** The places of the application. */
export function Places({ account }: { account: Account }) {
  const places = [
    { to: "/", name: "Library" },
    ...(mayEdit(account)
      ? [
          { to: "/capture", name: "Capture" },
          { to: "/picture", name: "Picture" },
          { to: "/reports", name: "Reports" },
        ]
      : []),
    { to: "/reviews", name: "Reviews" },
    { to: "/deliveries", name: "Deliveries" },
    ...(mayEdit(account) ? [{ to: "/setup", name: "Setup" }] : []),
  ];
  return <Tabs label="Places" tabs={places} />;
}

export function Tabs({ label, tabs }: { label: string; tabs: { to: string; name: string }[] }) {
  return (
    <nav aria-label={label} className="flex h-12 items-stretch max-sm:min-w-0 max-sm:overflow-x-auto">
      {tabs.map((t) => (
        <NavLink
          key={t.to}
          to={t.to}
          end={t.to !== "/capture" && t.to !== "/setup"}
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
