import { reasonOf } from "../../base/reason";
import { Link } from "react-router";
import { api, expect, type Share } from "../../base/api/client";
import { sayDay } from "../../base/format";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";

/** Links, each with what it opens and how often it was; each can be revoked. */
export function ShareList({ shares, titled }: { shares: Share[]; titled?: boolean }) {
  const notice = useNotice();
  const revoke = async (s: Share) => {
    try {
      await expect(
        api.DELETE("/api/documents/{document}/shares/{share}", {
          params: { path: { document: s.document, share: s.id } },
        }),
      );
      notice({ text: `The link for ${shown(s.name)} opens nothing any more.` });
    } catch (e) {
      notice({ text: reasonOf(e) });
    }
  };
  return (
    <ul className="divide-y divide-line">
      {shares.map((s) => (
        <li key={s.id} className="flex items-baseline gap-3 py-1.5">
          <span className="min-w-0 flex-1">
            <b>{shown(s.name)}</b>
            {titled && (
              <>
                {" "}
                to{" "}
                <Link to={`/d/${s.document}`} className="text-action hover:underline">
                  {shown(s.title)}
                </Link>
              </>
            )}
            <span className="block text-sm text-soft">{facts(s).join(", ")}</span>
          </span>
          <Button small aria-label={`Revoke the link for ${s.name}`} onClick={() => void revoke(s)}>
            Revoke
          </Button>
        </li>
      ))}
    </ul>
  );
}

const facts = (s: Share) =>
  [
    s.revision > 0 ? `revision ${s.revision}` : "the valid revision",
    s.password && "with a password",
    s.comments && "for comments too",
    s.downloads && "the PDF may be taken",
    s.lastDay && `until ${sayDay(s.lastDay)}`,
    `opened ${s.openings === 1 ? "once" : `${s.openings} times`}${s.most > 0 ? ` of ${s.most}` : ""}`,
    `made by ${shown(s.madeBy)} on ${sayDay(s.madeAt)}`,
  ].filter((f): f is string => Boolean(f));
