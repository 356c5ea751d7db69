/** What was entered and is still to reach the server: kept on this device, sent once and in order.
 *
 * Each message has its own place in the store, so that two tabs never write over one another, and
 * is the grower's who entered it: it waits until they sign in.
 */

import { asRefusal, unanswered } from "./client";
import { newKey } from "./key";

interface Message {
  /** Its place in the store; they sort as they were entered. */
  place: string;
  kind: string;
  body: unknown;
  /** Why the server would not take it; it stays until it is tried again or thrown away. */
  refused: string;
}

interface Kind {
  /** Send messages that go together. */
  send: (bodies: unknown[]) => Promise<void>;
  /** Whether one can be sent in the same request as the one before. */
  together: (before: unknown, next: unknown) => boolean;
}

const STORE = "idle-canopy outbox: ";
const AGAIN_MS = 3000;
const MOST_TOGETHER = 200;
const SIGNED_OUT = 401;
/** Refusals that pass by themselves. */
const BUSY = [429, 502, 503, 504];

function stored(grower: string): Message[] {
  const start = `${STORE}${grower}: `;
  const found: Message[] = [];
  for (const place of Object.keys(localStorage).sort()) {
    if (!place.startsWith(start)) continue;
    try {
      const { kind, body, refused } = JSON.parse(localStorage.getItem(place) ?? "") as Message;
      if (typeof kind === "string") found.push({ place, kind, body, refused: refused || "" });
    } catch {
      // what cannot be read is left where it is
    }
  }
  return found;
}

export class Outbox {
  private grower = "";
  private readonly kinds: Partial<Record<string, Kind>> = {};
  private messages = $state.raw<Message[]>([]);
  private entered = 0;
  private sending = false;
  private again: ReturnType<typeof setTimeout> | undefined;

  /** The server cannot be reached. */
  away = $state(false);
  /** Somebody has to sign in first. */
  signedOut = $state(false);
  /** The device takes no more. */
  full = $state(false);
  waiting = $derived(this.messages.filter((message) => !message.refused).length);
  refused = $derived(this.messages.filter((message) => message.refused));

  constructor() {
    globalThis.addEventListener("online", () => void this.flush());
    // another tab has put something in, or sent it
    globalThis.addEventListener("storage", (event) => {
      if (event.key?.startsWith(`${STORE}${this.grower}: `)) this.messages = stored(this.grower);
    });
  }

  /** How kinds of messages are sent; several senders can be added before anybody signs in. */
  carry<T>(
    kind: string,
    send: (bodies: T[]) => Promise<void>,
    together: (before: T, next: T) => boolean,
  ): void {
    this.kinds[kind] = { send, together } as unknown as Kind;
    // what waits may be of a kind that nobody could carry yet
    void this.flush();
  }

  /** Open a grower's; what waits is sent. */
  open(grower: string): void {
    this.grower = grower;
    this.messages = stored(grower);
    [this.away, this.signedOut] = [false, false];
    void this.flush();
  }

  close(): void {
    clearTimeout(this.again);
    this.grower = "";
    this.messages = [];
  }

  put(kind: string, body: unknown): void {
    if (!this.grower) return;
    const order = `${String(Date.now()).padStart(15, "0")}-${String(this.entered++).padStart(6, "0")}`;
    const place = `${STORE}${this.grower}: ${order}-${newKey()}`;
    try {
      localStorage.setItem(place, JSON.stringify({ kind, body }));
      this.full = false;
    } catch {
      // it is still sent from here, if this page lives on
      this.full = true;
    }
    this.messages = [...this.messages, { place, kind, body, refused: "" }];
    void this.flush();
  }

  /** What of a kind was entered and not taken yet, in order. */
  bodies(kind: string): unknown[] {
    return this.messages.filter((message) => message.kind === kind).map(({ body }) => body);
  }

  private drop(gone: Message[]): void {
    for (const { place } of gone) localStorage.removeItem(place);
    const places = gone.map((message) => message.place);
    this.messages = this.messages.filter((message) => !places.includes(message.place));
  }

  /** The next that can be sent together. */
  private next(): { kind: Kind; messages: Message[] } | null {
    const open = this.messages.filter((message) => !message.refused);
    const first = open[0];
    const kind = first && this.kinds[first.kind];
    if (!first || !kind) return null;
    const messages = [first];
    for (const message of open.slice(1, MOST_TOGETHER)) {
      if (message.kind !== first.kind || !kind.together(messages.at(-1)?.body, message.body)) break;
      messages.push(message);
    }
    return { kind, messages };
  }

  /** Send what waits, in order. */
  async flush(): Promise<void> {
    if (this.sending || !this.grower || this.signedOut) return;
    this.sending = true;
    clearTimeout(this.again);
    const grower = this.grower;
    for (let next = this.next(); next && this.grower === grower; next = this.next()) {
      try {
        await next.kind.send(next.messages.map((message) => $state.snapshot(message.body)));
        this.drop(next.messages);
        this.away = false;
      } catch (error) {
        if (!this.settled(error, next.messages)) break;
      }
    }
    this.sending = false;
  }

  /** Whether more can be sent after messages were not taken. */
  private settled(error: unknown, messages: Message[]): boolean {
    const { status, message } = asRefusal(error);
    if (status === SIGNED_OUT) {
      this.signedOut = true;
      return false;
    }
    // a server's own mistake would hold up all that comes after: it is put aside and told
    if (unanswered(error) || BUSY.includes(status)) {
      this.away = unanswered(error);
      this.again = setTimeout(() => void this.flush(), AGAIN_MS);
      return false;
    }
    const places = messages.map(({ place }) => place);
    for (const { place, kind, body } of messages)
      localStorage.setItem(place, JSON.stringify({ kind, body, refused: message }));
    this.messages = this.messages.map((one) =>
      places.includes(one.place) ? { ...one, refused: message } : one,
    );
    return true;
  }

  /** Try again what was refused. */
  retry(): void {
    for (const { place, kind, body } of this.refused)
      localStorage.setItem(place, JSON.stringify({ kind, body }));
    this.messages = this.messages.map((message) => ({ ...message, refused: "" }));
    void this.flush();
  }

  /** Throw away what was refused; what it was comes back for undoing. */
  discard(): () => Promise<void> {
    const gone = this.refused;
    this.drop(gone);
    return () => {
      for (const { place, kind, body, refused } of gone)
        localStorage.setItem(place, JSON.stringify({ kind, body, refused }));
      this.messages = stored(this.grower);
      return Promise.resolve();
    };
  }
}

export const outbox = new Outbox();
