import { NavLink } from "react-router";
import { type Account, mayAdminister } from "../../base/api/client";

const tabs = [
  { to: "/setup", name: "Setup" },
  { to: "/setup/people", name: "People" },
  { to: "/setup/receivers", name: "Receivers" },
  { to: "/setup/links", name: "Links" },
  { to: "/setup/trail", name: "What was done" },
];

/** The pages of setting up, of which some are for administrators. */
export function SetupTabs({ account }: { account: Account }) {
  if (!mayAdminister(account)) return null;
  return (
    <nav aria-label="Setting up" className="mb-4 flex gap-1 border-b border-line">
      {tabs.map((t) => (
        <NavLink
          key={t.to}
          to={t.to}
          end
          className={({ isActive }) =>
            `-mb-px border-b-[3px] px-3 py-1.5 ${isActive ? "border-action font-bold" : "border-transparent text-action hover:border-line"}`
          }
        >
          {t.name}
        </NavLink>
      ))}
    </nav>
  );
}
