import { reasonOf } from "../../base/reason";
import { ask } from "../../base/api/ask";
import { momentOf } from "../../base/format";
import { useQuery } from "@tanstack/react-query";
import { api, expect } from "../../base/api/client";
import { Button } from "../../base/ui/controls";
import { browserOf } from "../../base/storage/browserOf";

/** Where one is signed in; each can be ended. */
export function Sessions({ onSaid }: { onSaid: (text: string) => void }) {
  const list = useQuery({ ...ask("/api/sessions"), staleTime: 0 });
  const attempt = async (work: Promise<unknown>, text: string) => {
    try {
      await work;
      onSaid(text);
    } catch (e) {
      onSaid(reasonOf(e));
    }
  };
  const others = list.data?.filter((s) => !s.this) ?? [];
  return (
    <section aria-labelledby="sessions">
      <h3 id="sessions" className="mb-1 font-bold">
        Where you are signed in
      </h3>
      <ul className="divide-y divide-line">
        {list.data?.map((s) => (
          <li key={s.id} className="flex items-center gap-3 py-1.5">
            <span className="flex-1">
              {browserOf(s.browser)}, {s.address}
              <span className="block text-sm text-soft">
                {s.this ? "This one" : `Last seen ${momentOf(s.seenAt)}`}, since {momentOf(s.beganAt)}
              </span>
            </span>
            {!s.this && (
              <Button
                small
                onClick={() =>
                  void attempt(
                    expect(api.DELETE("/api/sessions/{login}", { params: { path: { login: s.id } } })),
                    "That session has ended.",
                  )
                }
              >
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
      {others.length > 0 && (
        <Button
          className="mt-2"
          onClick={() => void attempt(expect(api.DELETE("/api/sessions")), "All your other sessions have ended.")}
        >
          End my other sessions
        </Button>
      )}
    </section>
  );
}
