// Tells the page that the session has ended, whichever request found it out.

type Listener = () => void;
const listeners = new Set<Listener>();

export function onSignedOut(listener: Listener) {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

export const signedOut = () => listeners.forEach((l) => l());
