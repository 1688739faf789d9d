import type { ReactNode } from "react";
import { type Account, mayEdit, mayReview } from "../../base/api/client";
import { shown } from "../../base/ui/shown";
import { Tabs, TopBar } from "./TopBar";

/** The bar over one document: its title, whole, how far it has come, and its views. */
export function DocumentBar(props: {
  account: Account;
  id: string;
  title: string;
  /** How far it has come. */
  standing?: ReactNode;
  /** A page that shows the title itself leaves it out here where there is little room. */
  titled?: boolean;
  /** A filed document has no views. */
  viewed?: boolean;
}) {
  const { account, id, title, standing, titled, viewed = true } = props;
  return (
    <TopBar account={account} tight>
      <span className={`min-w-0 truncate font-bold ${titled ? "max-sm:hidden" : ""}`} title={shown(title)}>
        {shown(title)}
      </span>
      {standing}
      <span className="flex-1" />
      {viewed && <Tabs label="Views of this document" tabs={views(id, account)} />}
    </TopBar>
  );
}

const views = (id: string, account: Account) => [
  ...(mayEdit(account)
    ? [
        { to: `/d/${id}/write`, name: "Write" },
        { to: `/d/${id}/film`, name: "Film" },
      ]
    : mayReview(account)
      ? [{ to: `/d/${id}/review`, name: "Review" }]
      : []),
  { to: `/d/${id}/pages`, name: "Pages" },
  { to: `/d/${id}`, name: "Follow" },
];

/** What can be done with the document on this page, below the bar. */
export function Acts({ children }: { children: ReactNode }) {
  return (
    <div
      data-acts
      className="sticky top-12 z-10 flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-desk px-4 py-1 print:hidden"
    >
      {children}
    </div>
  );
}
