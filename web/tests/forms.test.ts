import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { Refusal, type Space } from "../src/api/client";
import { newKey } from "../src/api/key";
import { Rows } from "../src/api/rows.svelte";
import { spaces } from "../src/api/spaces.svelte";
import { Form } from "../src/parts/form/form.svelte";
import { unkept } from "../src/parts/form/drafts";
import { attempt, notice } from "../src/parts/notice.svelte";
import SpaceForm from "../src/places/space/SpaceForm.svelte";
import { dayWords } from "../src/units/format";
import { type Call, caught, soon } from "./replies";
import { user } from "./user";

const SPACE: Space = {
  rack_id: null,
  circuit_id: null,
  tier: 0,
  ceiling_reflectance: null,
  board_through: 0,
  lamps_fixed: false,
  id: 4, version: 7, removed: false, name: "Box room tent", width_cm: 120, depth_cm: 90, height_cm: 180,
  lining: "silver", lining_left: "", lining_right: "", lining_front: "", lining_back: "",
  stands: [], plots: [], pot_cm: 16, hangers_cm: 12, co2_enriched: false, timer_step_min: 15,
  follows_summer_time: false, currency: "€", tariff_per_kwh: 0.31, tariff_bands: [],
  tariff_from: "2026-09-01", ramp_min: 0, daylight: null, heat: null,
  tariffs: [{ holds_from: "2026-09-01", currency: "€", per_kwh: 0.31, bands: [], tiers: [], standing_per_day: 0, other_kwh_a_day: 0, grid_g_per_kwh: null }],
}; // prettier-ignore
const problem = (fields: Record<string, string>): unknown => ({
  detail: "2 fields need a look.",
  errors: Object.entries(fields).map(([field, sentence]) => ({ field, sentence })),
});

let calls: Call[];
beforeEach(() => {
  calls = caught();
  spaces.all = [SPACE];
  spaces.linings = [{ key: "silver", label: "Silver", reflectance: 0.8, mirror_share: 0, low: 0.7, high: 0.9 }]; // prettier-ignore
  notice.clear();
});
afterEach(() => vi.unstubAllGlobals());

describe("what a form was refused for", () => {
  const shown = (): void => void render(SpaceForm, { space: SPACE, done: () => undefined });
  const keep = async (status: number, body: unknown): Promise<void> => {
    await user.click(screen.getByRole("button", { name: "Keep these figures" }));
    await soon();
    calls.shift()?.reply(status, body);
    await soon();
  };

  it("stands at its field", async () => {
    shown();
    await keep(422, problem({ width_cm: "At least 20 cm." }));
    const field = screen.getByLabelText("Width (cm)");
    const note = document.getElementById(field.getAttribute("aria-describedby") ?? "");
    expect(note?.textContent).toContain("At least 20 cm.");
    expect(field.getAttribute("aria-invalid")).toBe("true");
    expect(screen.getByText("Not kept yet: see the marked fields.")).toBeTruthy();
  });

  it("stands above the button where its field is not on the page", async () => {
    shown();
    await keep(422, problem({ "daylight.reach": "A share from 0 to 1.", width_cm: "Wider." }));
    expect(screen.getByText("A share from 0 to 1.")).toBeTruthy();
    await keep(503, { detail: "Others are writing." });
    expect(screen.getByText("Others are writing.")).toBeTruthy();
  });

  it("is that it was changed elsewhere: what is typed stays, and the next try is on the new one", async () => {
    shown();
    const name = screen.getByLabelText<HTMLInputElement>("What you call it");
    await user.clear(name);
    await user.type(name, "Mine");
    const present = { ...SPACE, version: 9, name: "Theirs" };
    await keep(412, { detail: "This was changed elsewhere meanwhile.", present });
    expect(screen.getByRole("heading", { name: "Changed elsewhere meanwhile" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "here: Mine" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "there: Theirs" })).toBeTruthy();
    expect(name.value).toBe("Mine");
    expect(spaces.of(4)?.version).toBe(9);
  });

  it("sends the version that was edited", async () => {
    const headers: (string | null)[] = [];
    vi.stubGlobal("fetch", (request: Request) => {
      headers.push(request.headers.get("If-Match"));
      return Promise.resolve(new Response(JSON.stringify(SPACE), { status: 200 }));
    });
    await spaces.save(4, { ...SPACE } as never);
    expect(headers).toEqual(['"7"']);
  });
});

describe("what was typed and not kept", () => {
  it("waits until its form is opened again, and can be let go", async () => {
    const first = render(SpaceForm, { space: SPACE, done: () => undefined });
    const name = (): HTMLInputElement => screen.getByLabelText("What you call it");
    await user.type(name(), " two");
    expect(unkept()).toBe(true);
    first.unmount();
    expect(notice.sentence).toContain("Box room tent two");
    render(SpaceForm, { space: SPACE, done: () => undefined });
    expect(name().value).toBe("Box room tent two");
    await user.click(screen.getByRole("button", { name: "Begin with what is kept" }));
    expect(name().value).toBe("Box room tent");
    expect(unkept()).toBe(false);
  });

  it("is nothing where nothing was typed", () => {
    render(SpaceForm, { space: SPACE, done: () => undefined }).unmount();
    expect(notice.sentence).toBe("");
    expect(unkept()).toBe(false);
  });
});

describe("rows", () => {
  it("keep their places, and those put away stand apart", () => {
    const rows = new Rows<{ id: number; version: number; removed: boolean }>();
    rows.all = [1, 2, 3].map((id) => ({ id, version: 1, removed: false }));
    rows.put({ id: 2, version: 2, removed: true });
    rows.put({ id: 4, version: 1, removed: false });
    expect(rows.all.map((row) => row.id)).toEqual([1, 2, 3, 4]);
    expect([rows.present, rows.away].map((some) => some.map((row) => row.id))).toEqual([
      [1, 3, 4],
      [2],
    ]);
    expect(rows.of(9)).toBeNull();
  });

  it("are asked for with keys no two of which are alike, each a UUID of version 4", () => {
    const keys = Array.from({ length: 50 }, newKey);
    // RFC 9562: 8-4-4-4-12 digits, version 4, variant 10
    for (const key of keys)
      expect(key).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(new Set(keys).size).toBe(50);
  });
});

describe("above the place", () => {
  it("stands what no form says; an abort is nothing to say", async () => {
    expect(await attempt(() => Promise.reject(new Refusal(422, "It does not go in.")))).toBe(false);
    expect([notice.sentence, notice.wrong]).toEqual(["It does not go in.", true]);
    notice.clear();
    await attempt(() => Promise.reject(new DOMException("gone", "AbortError")));
    expect(notice.sentence).toBe("");
    await attempt(() => Promise.reject(new RangeError("x is not a function")));
    expect(notice.sentence).toContain("on this page");
    expect(await attempt(() => Promise.resolve())).toBe(true);
  });

  it("a form that was refused is free again", async () => {
    const form = new Form();
    expect(await form.send(() => Promise.reject(new RangeError("a bug")))).toBe(false);
    expect([form.busy, form.kept]).toEqual([false, false]);
    expect(form.general).toContain("on this page");
    expect(await form.send(() => Promise.resolve())).toBe(true);
    expect(form.general).toBe("");
  });

  it("days are said as people say them", () => {
    expect(dayWords("2026-11-26")).toBe("26 Nov 2026");
  });
});
