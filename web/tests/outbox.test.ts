import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { Outbox } from "../src/api/outbox.svelte";
import { OFFLINE as SENTENCE, Refusal } from "../src/api/client";
import { waitingHere } from "../src/api/waiting";

const OFFLINE = new Refusal(0, SENTENCE);

describe("what waits on a device", () => {
  let box: Outbox;
  let sent: unknown[][];
  let fails: unknown;
  const carry = (to: Outbox): void =>
    to.carry<number>(
      "count",
      (bodies) => {
        if (fails) return Promise.reject(fails as Error);
        sent.push(bodies);
        return Promise.resolve();
      },
      () => true,
    );
  const soon = (): Promise<unknown> => vi.advanceTimersByTimeAsync(3100);

  beforeEach(() => {
    localStorage.clear();
    vi.useFakeTimers();
    [sent, fails] = [[], null];
    box = new Outbox();
    carry(box);
    box.open("Ada");
  });
  afterEach(() => vi.useRealTimers());

  it("is sent once and in order when the server answers again", async () => {
    fails = OFFLINE;
    for (const n of [1, 2, 3]) box.put("count", n);
    await soon();
    expect([box.waiting, sent]).toEqual([3, []]);
    fails = null;
    await soon();
    expect([box.waiting, sent]).toEqual([0, [[1, 2, 3]]]);
    await soon();
    expect(sent).toHaveLength(1);
    expect(Object.keys(localStorage)).toEqual([]);
  });

  it("survives a reload", async () => {
    fails = OFFLINE;
    box.put("count", 1);
    box.put("count", 2);
    await soon();
    box.close();
    fails = null;
    const again = new Outbox();
    carry(again);
    again.open("Ada");
    await soon();
    expect(sent.flat()).toEqual([1, 2]);
  });

  it("waits for somebody who can carry it", async () => {
    box.put("other", 7);
    await soon();
    expect(box.waiting).toBe(1);
    const others: number[] = [];
    box.carry<number>(
      "other",
      (bodies) => {
        others.push(...bodies);
        return Promise.resolve();
      },
      () => true,
    );
    await soon();
    expect([others, box.waiting]).toEqual([[7], 0]);
  });

  it("belongs to one grower, and waits for sign-in", async () => {
    fails = new Refusal(401, "Sign in first.");
    box.put("count", 1);
    await soon();
    expect([box.signedOut, box.waiting]).toEqual([true, 1]);
    fails = null;
    box.open("Ben");
    await soon();
    expect([sent, box.waiting]).toEqual([[], 0]);
    expect(waitingHere()).toEqual([["Ada", 1]]);
    box.open("Ada");
    await soon();
    expect(sent).toEqual([[1]]);
    expect(waitingHere()).toEqual([]);
  });

  it("keeps what is refused until it is tried again or thrown away", async () => {
    fails = new Refusal(422, "There is no such spot.");
    box.put("count", 1);
    await soon();
    fails = null;
    box.put("count", 2);
    await soon();
    // what comes after is not held up
    expect(sent).toEqual([[2]]);
    expect(box.refused.map((each) => each.refused)).toEqual(["There is no such spot."]);
    const undo = box.discard();
    expect(box.refused).toEqual([]);
    await undo();
    expect(box.refused).toHaveLength(1);
    box.retry();
    await soon();
    expect(sent).toEqual([[2], [1]]);
  });

  it("is not held up by a mistake, the server's or the page's", async () => {
    for (const mistake of [new Refusal(500, "The server could not do that."), new TypeError("x")]) {
      fails = mistake;
      box.put("count", 1);
      await soon();
      fails = null;
      box.put("count", 2);
      await soon();
      expect(sent).toEqual([[2]]);
      expect([box.refused.length, box.away]).toEqual([1, false]);
      box.discard();
      sent = [];
    }
  });

  it("waits where the server is busy, and says so only where nobody answers", async () => {
    fails = new Refusal(503, "Busy; try again.");
    box.put("count", 1);
    await soon();
    expect([box.away, box.waiting]).toEqual([false, 1]);
    fails = OFFLINE;
    await soon();
    expect(box.away).toBe(true);
  });

  it("goes on where the device has no room", async () => {
    fails = OFFLINE;
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    box.put("count", 1);
    expect([box.full, box.waiting]).toEqual([true, 1]);
    vi.restoreAllMocks();
    fails = null;
    await soon();
    expect(sent).toEqual([[1]]);
  });
});
