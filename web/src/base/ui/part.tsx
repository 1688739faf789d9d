import { type ComponentType, type ReactNode, useEffect, useState } from "react";
import { Button } from "./controls";

/**
 * A part of the interface that comes when it is first shown. While it is on its way its fallback stands there; where it
 * can't be had, as without a network, it says so in its own place and all around it goes on.
 */
export function part<P extends object>(load: () => Promise<{ default: ComponentType<P> }>, fallback?: ReactNode) {
  let loaded: ComponentType<P> | undefined;
  return function Part(props: P) {
    const [state, setState] = useState<"coming" | "here" | "missing">(loaded ? "here" : "coming");
    useEffect(() => {
      if (state !== "coming") return;
      let gone = false;
      load().then(
        (made) => {
          loaded = made.default;
          if (!gone) setState("here");
        },
        () => !gone && setState("missing"),
      );
      return () => void (gone = true);
    }, [state]);
    if (loaded) {
      const Loaded = loaded;
      return <Loaded {...props} />;
    }
    if (state !== "missing") return fallback;
    return (
      <span
        role="alert"
        className="inline-flex items-center gap-2 rounded border border-line bg-paper px-2 py-1 text-sm text-ink"
      >
        This part can’t be loaded now.
        <Button small onClick={() => setState("coming")}>
          Try again
        </Button>
      </span>
    );
  };
}
