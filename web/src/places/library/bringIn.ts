import { bytes } from "../../base/api/bytes";
import { api, expect, type Summary } from "../../base/api/client";

/** The files that become documents. */
export const readable = ".bundle,.pdf,.docx,.html,.htm,.md,.markdown,.zip";

type Brought = { document: Summary; left: string[] };

const bundle = async (file: File): Promise<Brought> => ({
  document: await expect(api.POST("/api/bundles", bytes(file, "application/zip"))),
  left: [],
});

/** Makes a document of a file: of a bundle, a PDF, or what another program wrote. */
export async function bringIn(file: File, folder: string): Promise<Brought> {
  const name = file.name.toLowerCase();
  const query = { name: file.name, folder: folder || undefined };
  if (name.endsWith(".bundle")) return bundle(file);
  if (name.endsWith(".pdf")) {
    const document = await expect(api.POST("/api/filed", { params: { query }, ...bytes(file, "application/pdf") }));
    return { document, left: [] };
  }
  const { left, document } = await expect(api.POST("/api/imports", { params: { query }, ...bytes(file) }));
  return { document, left };
}
