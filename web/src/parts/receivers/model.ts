import type { Receiver } from "../../base/api/client";

/** The ways to reach a receiver, as people read them. */
export const ways: Record<Receiver["way"], string> = {
  http: "Over the web",
  mail: "By mail",
  webdav: "A network folder",
  folder: "A place of the house",
};

export const forms: Record<Receiver["takes"]["text"], string> = { markdown: "Markdown", html: "HTML", plain: "Plain" };

/** A receiver to begin with: a tracker that takes JSON. */
export const fresh = (): Receiver => ({
  name: "",
  way: "http",
  takes: {
    text: "markdown",
    longestText: 0,
    pictures: ["image/png", "image/jpeg"],
    pdf: false,
    largestFile: 0,
    largestSum: 0,
    mostFiles: 0,
  },
  reached: {
    make: { method: "POST", address: "", type: "application/json", body: '{"title": "{title}", "text": "{text}"}' },
    file: { method: "POST", address: "", type: "file" },
    header: [],
    number: "number",
    link: "url",
  },
});
