import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, expect, type Validity } from "../api/client";
import { Button } from "../ui/controls";
import { shown } from "../ui/shown";

const day = (iso: string) =>
  new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "long", year: "numeric" });

const Bar = ({ warns, children }: { warns: boolean; children: ReactNode }) => (
  <div
    role="status"
    className={`sticky top-12 z-10 flex flex-wrap items-center gap-3 border-b border-line border-l-[6px] px-4 py-2 print:hidden ${warns ? "border-l-mustfix bg-[#fdf3f2]" : "border-l-action bg-paper"}`}
  >
    {children}
  </div>
);

/** Says that a newer revision is valid than the one on the page; the page stays until its reader wants the other. */
export const Newer = ({ revision, onShow }: { revision: number; onShow: () => void }) => (
  <Bar warns>
    <span className="flex-1">
      This page has been replaced: <b>revision {revision}</b> is valid now. What you have ticked stays.
    </span>
    <Button look="main" onClick={onShow}>
      Show revision {revision}
    </Button>
  </Bar>
);

/** What a printed page is worth. */
export function useValidity(document: string, printed: number) {
  return useQuery({
    queryKey: ["valid", document, printed],
    enabled: printed > 0,
    queryFn: () =>
      expect(api.GET("/api/valid/{document}/{revision}", { params: { path: { document, revision: printed } } })),
  });
}

/** The same in words. */
export function validitySaid(v: Validity): { said: string; valid: boolean } {
  const since = v.since ? day(v.since) : "";
  switch (v.state) {
    case "valid":
      return { said: `Your printed page is valid: revision ${v.revision ?? ""}, since ${since}.`, valid: true };
    case "replaced":
      return {
        said: `Your printed page is revision ${v.revision ?? ""}. It was replaced by revision ${v.by ?? ""} on ${since}.`,
        valid: false,
      };
    case "retired":
      return { said: "Your printed page is retired: nobody should follow it any more.", valid: false };
    default:
      return { said: "Nothing is known of this printed page. Do not follow it.", valid: false };
  }
}

/** Says whether the printed page that someone came from is still valid. */
export function Printed({ document, revision }: { document: string; revision: number }) {
  const { data } = useValidity(document, revision);
  if (!data) return null;
  const { said, valid } = validitySaid(data);
  return (
    <Bar warns={!valid}>
      <span className="flex-1">{said}</span>
      {data.instead && (
        <Link to={`/d/${data.instead.id}`} className="text-action underline">
          {shown(data.instead.title)}
        </Link>
      )}
    </Bar>
  );
}
