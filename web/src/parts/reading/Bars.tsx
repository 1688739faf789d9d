import type { ReactNode } from "react";
import { Link } from "react-router";
import { useValidity, validitySaid } from "../../base/api/validity";
import { Button } from "../../base/ui/controls";
import { shown } from "../../base/ui/shown";

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
