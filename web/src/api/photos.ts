/** Photographs of a run: sent whole, shown by address. */

import { answer, client, type LogEntry } from "./client";
import { newKey } from "./key";

/** Keep a photo; what it shows of the place it was taken at is removed by the server. */
export function keepPhoto(run_id: number, file: File, note: string): Promise<LogEntry> {
  const params = {
    path: { run_id },
    query: { note },
    header: { "Idempotency-Key": newKey() },
  };
  return answer(
    client.POST("/api/logbook/runs/{run_id}/photos", {
      params,
      body: file as unknown as string,
      bodySerializer: (body: unknown) => body as BodyInit,
      headers: { "Content-Type": file.type || "application/octet-stream" },
    }),
  );
}

/** Where a photo of an entry is shown from. */
export function photoOf(entry: Pick<LogEntry, "values">, small = false): string {
  return `/api/logbook/photos/${Number(entry.values.photo)}${small ? "?small=true" : ""}`;
}
