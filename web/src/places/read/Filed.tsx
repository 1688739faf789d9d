import { sizeOf } from "../../base/format";
import { useMutation } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { type Account, api, expect, mayEdit, type WholeDocument } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";

/** A filed PDF, page by page. */
export function Filed({ account, data }: { account: Account; data: WholeDocument }) {
  const { summary, facts } = data;
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const notice = useNotice();
  const pages = facts.file?.pages ?? 0;
  const at = Number(search.get("page") ?? 0);
  useEffect(() => {
    if (at > 0) document.getElementById(`page-${at}`)?.scrollIntoView();
  }, [at]);
  const path = { params: { path: { document: summary.id } } };
  const rewrite = useMutation({
    mutationFn: () => expect(api.POST("/api/documents/{document}/rewrite", path)),
    onSuccess: () => void navigate(`/d/${summary.id}/write`),
  });
  const release = useMutation({
    mutationFn: () =>
      expect(api.PUT("/api/documents/{document}/state", { ...path, body: { act: "release", seq: data.seq } })),
    onSuccess: () => notice({ text: "Ready: readers find it now." }),
  });
  return (
    <main className="mx-auto max-w-4xl px-4 py-6">
      <div className="mb-5 border border-line bg-paper px-5 py-4">
        <h1 className="text-2xl font-bold">{shown(summary.title)}</h1>
        <p className="mt-1 text-soft">
          {summary.number && `${summary.number}, `}
          {summary.state === "ready" ? `revision ${summary.said}` : "Draft, not ready for use"}, {facts.file?.name},{" "}
          {pages === 1 ? "1 page" : `${pages} pages`}, {sizeOf(facts.file?.bytes ?? 0)}
        </p>
        <div className="mt-3 flex flex-wrap gap-3 print:hidden">
          <a
            href={`/api/documents/${summary.id}/file`}
            className="rounded border border-action bg-action px-3 py-1.5 text-paper"
          >
            Save the PDF
          </a>
          {mayEdit(account) && summary.state !== "ready" && (
            <Button disabled={release.isPending} onClick={() => release.mutate()}>
              Release
            </Button>
          )}
          {mayEdit(account) && (
            <Link to={`/d/${summary.id}/write`} className="rounded border border-line bg-paper px-3 py-1.5">
              About this document
            </Link>
          )}
          {mayEdit(account) && (
            <Button
              disabled={rewrite.isPending}
              title="Its pages become pictures and its numbered lines steps. Readers keep the PDF until you release that."
              onClick={() => rewrite.mutate()}
            >
              {rewrite.isPending ? "Reading its pages …" : "Rewrite it as a procedure"}
            </Button>
          )}
        </div>
      </div>
      <ol className="space-y-4">
        {Array.from({ length: pages }, (_, i) => (
          <li key={i} id={`page-${i + 1}`}>
            <img
              src={`/api/documents/${summary.id}/file/${i + 1}`}
              alt={`Page ${i + 1} of ${pages}`}
              loading="lazy"
              width={1131}
              height={1600}
              className={`h-auto w-full border bg-paper ${at === i + 1 ? "border-action" : "border-line"}`}
            />
            <p className="mt-1 text-center text-sm text-soft">
              Page {i + 1} of {pages}
            </p>
          </li>
        ))}
      </ol>
    </main>
  );
}
