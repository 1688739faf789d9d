import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { type Account, api, expect, type KeptStyle } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { Subject } from "../../parts/bar/SetupPage";
import { useNotice } from "../../base/ui/notices";
import { shown } from "../../base/ui/shown";
import { layoutName } from "../../parts/house/layouts";
import { useHouseStyles } from "../../parts/house/useHouseStyles";

const papers: Record<string, string> = { a4: "A4", a5: "A5", letter: "Letter", own: "a size of its own" };

/** The house styles, under Setup. */
export function HouseStyles({ account }: { account: Account }) {
  const styles = useHouseStyles();
  const notice = useNotice();
  const navigate = useNavigate();
  const act = useMutation({
    mutationFn: (run: () => Promise<unknown>) => run(),
  });
  const copy = (s: KeptStyle) =>
    act.mutate(async () => {
      const made = await expect(api.POST("/api/housestyles", { body: { ...s.style, name: `${s.style.name}, copy` } }));
      void navigate(`/styles/${made.id}`);
    });
  return (
    <Subject id="styles" title="House styles">
      <p className="mt-1 text-soft">How documents look on paper and in every file. Each document can name one.</p>
      <ul className="mt-3">
        {styles.data?.map((s) => (
          <li key={s.id} className="flex flex-wrap items-center gap-x-3 border-t border-line py-2">
            <span className="min-w-0 flex-1 basis-56">
              <Link to={`/styles/${s.id}`} className="font-bold text-action hover:underline">
                {shown(s.style.name)}
              </Link>
              {s.usual && <span className="ml-2 rounded border border-soft px-1.5 text-sm">usual</span>}
              <span className="block text-sm text-soft">
                {papers[s.style.paper.name]}
                {s.style.paper.across ? " across" : ""}, {layoutName(s.style.layout)}
                {s.builtIn ? ". Ships with Raconte." : "."}
              </span>
            </span>
            {account.role === "administrator" && !s.usual && (
              <Button
                small
                onClick={() => act.mutate(() => expect(api.PUT("/api/housestyles/usual", { body: { style: s.id } })))}
              >
                Make it the usual one
              </Button>
            )}
            <Button small onClick={() => copy(s)}>
              Copy
            </Button>
            {!s.builtIn && (
              <Button
                small
                onClick={() =>
                  act.mutate(async () => {
                    await expect(api.DELETE("/api/housestyles/{style}", { params: { path: { style: s.id } } }));
                    notice({
                      text: `“${s.style.name}” can’t be chosen any more. Documents that have it keep it.`,
                    });
                  })
                }
              >
                Delete
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Subject>
  );
}
