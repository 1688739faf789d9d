import { Blank } from "./controls";

/** What stands at an address that leads nowhere. */
export function Nothing() {
  return (
    <Blank title="There is nothing at this address">
      <a className="text-action underline" href="/">
        Go to the library
      </a>
    </Blank>
  );
}
