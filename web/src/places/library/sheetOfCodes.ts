import { saveAs } from "../../base/ui/saveAs";
import { toldBy } from "../../base/api/client";

/** Saves a sheet of the codes of documents, each with its name, to be hung up where they are followed. */
export async function sheetOfCodes(documents: string[]) {
  const answer = await fetch("/api/codes", {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ documents: [...new Set(documents)].slice(0, 200) }),
  });
  if (!answer.ok) await toldBy(answer, "The sheet could not be made. Try again.");
  saveAs(await answer.blob(), "codes.pdf");
}
