/** A server that answers when the test says so. */

import { vi } from "vitest";

export interface Call {
  method: string;
  url: string;
  body: Record<string, unknown>;
  reply: (status: number, body: unknown) => void;
}

/** Turn the clock on, and let what waited for it happen. */
export const soon = (ms = 5): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

/** Catch every request from now on, oldest first. */
export function caught(): Call[] {
  const calls: Call[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const text = await request.text();
    return new Promise<Response>((done) => {
      calls.push({
        method: request.method,
        url: new URL(request.url).pathname,
        body: text ? (JSON.parse(text) as Record<string, unknown>) : {},
        reply: (status, body) =>
          done(
            new Response(status === 204 ? null : JSON.stringify(body), {
              status,
              headers: { "Content-Type": "application/json" },
            }),
          ),
      });
    });
  });
  return calls;
}
