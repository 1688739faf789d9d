import { beside } from "../../base/api/beside";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Block, expect } from "../../base/api/client";
import { Button, Field } from "../../base/ui/controls";
import { unsent } from "../../base/ui/unsent";

/** Where a link lets its reader comment, under a name that they give. */
export function Say(props: { token: string; opening: string; steps: Block[]; at: Block | undefined; asks?: string }) {
  const { token, opening, steps } = props;
  const keep = `say ${token}`;
  const [name, setName] = useState("");
  const [body, setBody] = useState(unsent.get(keep) ?? "");
  const [block, setBlock] = useState("");
  const say = useMutation({
    ...beside,
    mutationFn: () =>
      expect(
        api.POST("/api/shared/{token}/comments", {
          params: { path: { token }, query: { opening } },
          body: { id: crypto.randomUUID(), name, body, block: props.at?.id ?? block },
        }),
      ),
    onSuccess: () => {
      unsent.delete(keep);
      setBody("");
    },
  });
  return (
    <section aria-labelledby="say" className="mx-auto max-w-4xl bg-paper px-4 pb-8 sm:px-10 print:hidden">
      <form
        className="space-y-3 border-t-2 border-ink pt-4"
        onSubmit={(e) => {
          e.preventDefault();
          say.mutate();
        }}
      >
        <h2 id="say" className="text-lg font-bold">
          {props.asks ?? "Tell those who wrote this"}
        </h2>
        <div className="grid gap-3 sm:grid-cols-2">
          <Field label="Your name" value={name} onChange={setName} autoComplete="name" />
          {!props.at && !props.asks && (
            <label className="block">
              <span className="mb-1 block text-sm text-soft">About</span>
              <select
                value={block}
                onChange={(e) => setBlock(e.target.value)}
                className="w-full rounded border border-soft bg-paper px-2 py-2"
              >
                <option value="">The whole document</option>
                {steps.map((s) => (
                  <option key={s.id} value={s.id}>
                    Step {s.number}
                  </option>
                ))}
              </select>
            </label>
          )}
        </div>
        <label className="block">
          <span className="mb-1 block text-sm text-soft">
            {props.asks ? "What you want to add" : "What is wrong, or missing"}
          </span>
          <textarea
            rows={3}
            maxLength={4000}
            value={body}
            onChange={(e) => {
              unsent.set(keep, e.target.value);
              setBody(e.target.value);
            }}
            className="w-full rounded border border-soft px-2 py-1"
          />
        </label>
        {say.error && (
          <p role="alert" className="text-mustfix">
            {say.error.message}
          </p>
        )}
        <p className="flex items-center gap-3">
          <Button
            look="main"
            type="submit"
            disabled={say.isPending}
            why={(!body.trim() && "Write what you want to say.") || (!name.trim() && "Say who you are.")}
          >
            Send
          </Button>
          <span role="status">{say.isSuccess && !body ? "Thank you. It is sent." : ""}</span>
        </p>
      </form>
    </section>
  );
}
