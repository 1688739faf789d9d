import { type ReactNode, useState } from "react";
import { NavLink, useNavigate } from "react-router";
import type { Account } from "../../base/api/client";
import { useTitle } from "../../base/ui/title";
import { findSubjects } from "./subjects";
import { Places, TopBar } from "./TopBar";

/** A page of setting up, beside the places that there are: what is a person's own, and what is the house's. */
export function SetupPage(props: {
  account: Account;
  title: string;
  /** What it is for, in a sentence or two. */
  about?: string;
  /** What can be added here. */
  act?: ReactNode;
  children: ReactNode;
}) {
  useTitle(props.title);
  return (
    <>
      <TopBar account={props.account}>
        <Places account={props.account} />
      </TopBar>
      <div className="mx-auto grid max-w-6xl gap-x-8 gap-y-4 px-4 py-6 md:grid-cols-[13.5rem_minmax(0,1fr)]">
        <Subjects account={props.account} />
        <main className="min-w-0">
          <div className="mb-1 flex flex-wrap items-center gap-3">
            <h1 className="mr-auto text-2xl font-bold">{props.title}</h1>
            {props.act}
          </div>
          {props.about && <p className="max-w-prose text-soft">{props.about}</p>}
          <div className="mt-4 space-y-5">{props.children}</div>
        </main>
      </div>
    </>
  );
}

function Subjects({ account }: { account: Account }) {
  const [text, setText] = useState("");
  const navigate = useNavigate();
  const found = findSubjects(account, text);
  return (
    <nav aria-label="Setting up" className="md:sticky md:top-(--bar) md:self-start">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (found[0]) void navigate(found[0].to);
        }}
      >
        <input
          type="search"
          aria-label="Find in Setup"
          placeholder="Find in Setup"
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="mb-3 w-full rounded border border-soft bg-paper px-3 py-1.5 placeholder:text-soft"
        />
      </form>
      {(["yours", "the house’s"] as const).map((whose) => {
        const here = found.filter((s) => s.whose === whose);
        return (
          here.length > 0 && (
            <div key={whose} className="mb-3">
              <h2 className="border-l-[3px] border-transparent px-3 text-sm text-soft">
                {whose === "yours" ? "Yours" : "The house’s"}
              </h2>
              <ul className="max-md:flex max-md:flex-wrap">
                {here.map((s) => (
                  <li key={s.to}>
                    <NavLink
                      to={s.to}
                      className={({ isActive }) =>
                        `block border-l-[3px] px-3 py-1 ${isActive ? "border-action font-bold" : "border-transparent text-action hover:border-line"}`
                      }
                    >
                      {s.name}
                    </NavLink>
                  </li>
                ))}
              </ul>
            </div>
          )
        );
      })}
      <p role="status" className="px-3 text-soft">
        {found.length === 0 && "Nothing here is called so."}
      </p>
    </nav>
  );
}

/** One subject of such a page. */
export function Subject(props: { id: string; title: string; act?: ReactNode; children: ReactNode }) {
  return (
    <section aria-labelledby={props.id} className="rounded border border-line bg-paper p-5">
      <div className="mb-1 flex flex-wrap items-center gap-3">
        <h2 id={props.id} className="mr-auto text-lg font-bold">
          {props.title}
        </h2>
        {props.act}
      </div>
      {props.children}
    </section>
  );
}
