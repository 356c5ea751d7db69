import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Bench } from "../src/api/client";
import SwitchesPanel from "../src/places/bench/SwitchesPanel.svelte";
import SwitchFields from "../src/places/fixtures/SwitchFields.svelte";
import { switchesWords } from "../src/words/switches";
import { type Call, caught, soon } from "./replies";
import { sample } from "./sample";
import { user } from "./user";

let calls: Call[];
beforeEach(() => {
  calls = caught();
});
afterEach(() => {
  vi.unstubAllGlobals();
});

const SWITCHES: Bench["switches"] = [
  { number: 1, name: "Whites", dimmed: true, fan: true, light_share: 0.8, watts_share: 0.75, dial_pct: null },
  { number: 2, name: "Reds", dimmed: false, fan: false, light_share: 0.2, watts_share: 0.25, dial_pct: 0 },
]; // prettier-ignore

describe("the lamp's switches", () => {
  it("are told in a few words where they do not go with the plan's dial", () => {
    expect(switchesWords(SWITCHES)).toBe("Reds off");
    const held = SWITCHES.map((one) => ({ ...one, dial_pct: 40 }));
    expect(switchesWords(held)).toBe("Whites at 40, Reds on");
    expect(switchesWords(SWITCHES.slice(0, 1))).toBe("");
  });

  it("are set one by one, and what the light then is stands above them", async () => {
    const settled = vi.fn();
    const colour = { lux_per_umol: 72.94, red_blue: 2.11, far_red_share: 0.01, par_share: 0.98, highest_efficacy: 4.7 }; // prettier-ignore
    const bench = { ...sample(), switches: SWITCHES, colour, fan: false } as Bench;
    render(SwitchesPanel, { runId: 3, bench, settled, close: vi.fn() });
    expect(document.body.textContent).toContain("divide by 72.9");
    expect(document.body.textContent).toContain("2.1 to 1");
    expect(document.body.textContent).toContain("Its fan stands still.");
    await user.selectOptions(screen.getByLabelText("Whites, now"), "off");
    await soon();
    const sent = calls.shift();
    expect(sent?.url).toBe("/api/runs/3/stages/7/switches/1");
    expect(sent?.body).toEqual({ from_day: 0, dial_pct: 0 });
    sent?.reply(204, null);
    await soon(30);
    expect(settled).toHaveBeenCalled();
    // one without a dial is on or off, and goes back to on
    const reds = screen.getByLabelText("Reds, now");
    expect([...reds.querySelectorAll("option")].map((o) => o.textContent)).toEqual(["on", "off"]);
    await user.selectOptions(reds, "with");
    await soon();
    expect(calls.shift()?.body).toEqual({ from_day: 0, dial_pct: null });
  });
});

describe("a lamp's switches in its form", () => {
  const two = { channels: [{ share: 0.9, cct_k: 3500 }, { share: 0.1, peak_nm: 660 }] }; // prettier-ignore

  it("begin with whites and reds apart, each part of the light on its own", async () => {
    const props = $state({ switches: [], spectrum: two as Record<string, unknown> | null });
    render(SwitchFields, props);
    await user.click(screen.getByRole("button", { name: /two or more switches/ }));
    expect((screen.getByLabelText("Switch 1 is called") as HTMLInputElement).value).toBe("Whites");
    expect((screen.getByLabelText("Switch 2 is called") as HTMLInputElement).value).toBe("Reds");
    await user.click(screen.getByRole("button", { name: "Take out switch 2" }));
    // one switch is none
    expect(screen.queryByLabelText("Switch 1 is called")).toBeNull();
  });

  it("ask for the colours first", () => {
    render(SwitchFields, { switches: [], spectrum: null });
    expect(screen.getByText(/give its whites and colours above first/)).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });
});
