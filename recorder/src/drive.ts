import { bring, collect, perform, settled } from "./again";
import { frameState } from "./frames";

// What `raconte recorder check` puts into a page that it drives: the same hands as the recorder's, called from outside.

const drive = {
  bring,
  perform,
  settled,
  see: () => ({
    ratio: devicePixelRatio,
    size: { w: innerWidth, h: innerHeight },
    title: document.title,
    address: location.origin === "null" ? "" : location.origin + location.pathname,
    elements: collect(),
  }),
  secrets: () => frameState().secrets,
};

Object.assign(globalThis, { raconteDrive: drive });
