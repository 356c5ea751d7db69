/** Everything a grower keeps as one file, out and in. */

import { answer, type Brought, client } from "./client";
import { account } from "./grower.svelte";
import { newKey } from "./key";
import { download } from "../parts/download";

const ARCHIVE = "/api/archive" as const;

const PIECE = 4 * 1024 * 1024;

/** Send an archive piece by piece; returns the key it is known by from then on. */
export async function sendArchive(file: File, told: (share: number) => void): Promise<string> {
  const key = newKey();
  for (let at = 0; at < Math.max(file.size, 1); at += PIECE) {
    const piece = file.slice(at, at + PIECE);
    await answer(
      client.POST("/api/archive/arriving/{key}", {
        params: { path: { key }, query: { at } },
        body: piece as unknown as string,
        bodySerializer: (body: unknown) => body as BodyInit,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    );
    told(Math.min((at + PIECE) / file.size, 1));
  }
  return key;
}

/** Bring what was sent into this account, or only hear what that would do. */
export function bringIn(key: string, really: boolean): Promise<Brought> {
  const params = { path: { key }, query: { really } };
  return answer(client.POST("/api/archive/arriving/{key}/bring", { params }));
}

/** Take the whole account out, and hand it to the browser to keep. */
export async function takeOut(): Promise<void> {
  const content = await answer(client.GET(ARCHIVE, { parseAs: "blob" }));
  download(`Idle Canopy ${account.today}.canopy.zip`, content as BlobPart, "application/zip");
}
