import { Component, type ReactNode } from "react";
import { Button } from "./controls";

/** Keeps a screen that breaks from taking the others with it, and shows a way back. */
export class Boundary extends Component<{ children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };
  static getDerivedStateFromError = () => ({ broken: true });
  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <main role="alert" className="mx-auto max-w-xl px-6 py-24 text-center">
        <h1 className="text-xl font-bold">This screen can’t be shown</h1>
        <p className="mt-3 text-soft">Something in it went wrong. What you have written and brought in is kept.</p>
        <p className="mt-5 flex justify-center gap-2">
          <Button look="main" onClick={() => location.reload()}>
            Load it again
          </Button>
          <a href="/" className="rounded px-3 py-1.5 text-action underline">
            Go to the library
          </a>
        </p>
      </main>
    );
  }
}
