import { kept } from "./state";

/** Asks a Raconte something; the reason in its words where it gives no answer. */
export async function askHouse<T>(address: string, path: string, body?: object): Promise<T> {
  const house = (await kept()).houses.find((h) => h.address === address);
  if (!house) throw new Error("This recorder is not connected with that Raconte any more.");
  let answer: Response;
  try {
    answer = await fetch(`${address}/api/feed/${path}`, {
      method: body ? "POST" : "GET",
      headers: { Authorization: `Bearer ${house.token}`, ...(body && { "Content-Type": "application/json" }) },
      body: body && JSON.stringify(body),
      credentials: "omit",
    });
  } catch {
    throw new Error("Raconte can’t be reached.");
  }
  const said = (await answer.json().catch(() => ({}))) as T & { message?: string };
  if (!answer.ok) throw new Error(said.message ?? "Raconte gave no answer.");
  return said;
}
