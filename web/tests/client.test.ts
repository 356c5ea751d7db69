import { render, screen } from "@testing-library/svelte";
import { createRawSnippet } from "svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { answer, asRefusal, client, Refusal } from "../src/api/client";
import { garden } from "../src/api/garden.svelte";
import { lookedAt } from "../src/api/looked";
import Trouble from "../src/app/Trouble.svelte";
import { user } from "./user";

const json = (status: number, body: unknown, headers = {}): Response =>
  new Response(body === null ? null : JSON.stringify(body), {
    status,
    headers: { "Content-Type": "application/json", ...headers },
  });

afterEach(() => vi.unstubAllGlobals());

describe("asking the server", () => {
  it("tries again when it is busy and says when to, and then says so", async () => {
    vi.useFakeTimers();
    const busy = json(503, { detail: "Others are writing just now." }, { "Retry-After": "2" });
    const fetch = vi.fn().mockResolvedValueOnce(busy.clone()).mockResolvedValueOnce(json(200, []));
    vi.stubGlobal("fetch", fetch);
    const asked = answer(client.GET("/api/runs"));
    await vi.advanceTimersByTimeAsync(2100);
    expect(await asked).toEqual([]);
    fetch.mockReset().mockImplementation(() => Promise.resolve(busy.clone()));
    const again = answer(client.GET("/api/runs")).catch(asRefusal);
    await vi.advanceTimersByTimeAsync(60_000);
    vi.useRealTimers();
    expect(((await again) as Refusal).message).toContain("Others are writing");
    expect(fetch).toHaveBeenCalledTimes(4);
  });

  it("takes an empty answer for an answer", async () => {
    vi.stubGlobal("fetch", () => Promise.resolve(new Response(null, { status: 204 })));
    const params = { path: { run_id: 1, stage_id: 2 } };
    const path = "/api/runs/{run_id}/stages/{stage_id}/setting" as const;
    await expect(answer(client.DELETE(path, { params }))).resolves.toBeUndefined();
  });

  it("does not call a mistake of ours a server that is away", async () => {
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("Failed to fetch")));
    const away = await answer(client.GET("/api/runs")).catch(asRefusal);
    expect((away as Refusal).message).toContain("does not answer");
    expect(asRefusal(new RangeError("x")).message).toContain("on this page");
  });
});

describe("what goes wrong in a place", () => {
  const broken = createRawSnippet(() => {
    throw new RangeError("a place");
  });

  it("is said there, with a way back", async () => {
    vi.spyOn(console, "error").mockImplementation(() => undefined);
    render(Trouble, { here: "/bench", children: broken });
    expect(screen.getByRole("alert").textContent).toContain("could not be shown");
    expect(screen.getByRole("button", { name: "Show it again" })).toBeTruthy();
  });

  it("is said when it was a promise nobody waited for, and can be put away", async () => {
    const children = createRawSnippet(() => ({ render: () => "<p>a place</p>" }));
    render(Trouble, { here: "/bench", children });
    const lost = new Event("unhandledrejection") as Event & { reason: unknown };
    lost.reason = new Refusal(422, "That lamp does not go in.");
    globalThis.dispatchEvent(lost);
    expect((await screen.findByRole("alert")).textContent).toContain("That lamp does not go in.");
    await user.click(screen.getByRole("button", { name: "Go on without" }));
    expect(screen.queryByRole("alert")).toBeNull();
    expect(screen.getByText("a place")).toBeTruthy();
  });
});

describe("what is looked at", () => {
  const RUNS = [{ id: 8, stage_id: 3 }, { id: 7, stage_id: 1 }]; // prettier-ignore
  const served = (path: string): unknown =>
    path.endsWith("/session")
      ? { grower: { name: "Ada", is_demo: false, length_unit: "cm" } }
      : path.endsWith("/runs")
        ? RUNS
        : [];
  beforeEach(() => {
    localStorage.clear();
    sessionStorage.clear();
    vi.stubGlobal("fetch", (request: Request) =>
      Promise.resolve(json(200, served(new URL(request.url).pathname))),
    );
  });

  it("is there again after a reload: the plan and each plan's stage", async () => {
    await garden.begin();
    expect([garden.runId, garden.stageId]).toEqual([8, 3]);
    garden.openPlan(7);
    garden.lookAt(7, 2);
    await garden.begin();
    expect([garden.runId, garden.stageId]).toEqual([7, 2]);
    garden.openPlan(8);
    expect(garden.stageId).toBe(3);
    // another grower on this machine looks at their own
    expect(lookedAt("Bo")).toEqual({ stages: {}, days: {} });
  });

  it("falls back to the newest plan when the other is gone or what is kept cannot be read", async () => {
    garden.openPlan(99);
    await garden.begin();
    expect(garden.runId).toBe(8);
    for (const store of [localStorage, sessionStorage])
      for (const key of Object.keys(store)) store.setItem(key, "{");
    await garden.begin();
    expect(garden.runId).toBe(8);
  });
});
