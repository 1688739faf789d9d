import { type ReactNode, useEffect, useState } from "react";
import { Blank, Button } from "./controls";
import { loadCore, loadedCore } from "../core/core";

/** Shows its children once the core is there; where it could not be loaded, it can be tried again. */
export function CoreGate({ children }: { children: ReactNode }) {
  const [state, setState] = useState<"loading" | "ready" | "failed">(loadedCore() ? "ready" : "loading");
  useEffect(() => {
    if (state !== "loading") return;
    loadCore().then(
      () => setState("ready"),
      () => setState("failed"),
    );
  }, [state]);
  if (state === "ready") return children;
  if (state === "loading") return <Blank title="One moment…" />;
  return (
    <Blank title="A part of Raconte could not be loaded">
      <p className="mb-4">Check the connection. What you have written and brought in is kept in this browser.</p>
      <Button look="main" onClick={() => setState("loading")}>
        Try again
      </Button>
    </Blank>
  );
}
