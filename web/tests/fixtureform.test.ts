import { render, screen, within } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Fixture, FixtureIn } from "../src/api/client";
import FixtureForm from "../src/places/fixtures/FixtureForm.svelte";
import { blank, type Draft, fromLamp, fromListing } from "../src/places/fixtures/record";
import { type Call, caught, soon } from "./replies";
import { fixtures } from "../src/api/fixtures.svelte";
import { user } from "./user";

let calls: Call[];
beforeEach(() => {
  calls = caught();
});
afterEach(() => {
  vi.unstubAllGlobals();
  fixtures.all = [];
});

function board(change: Partial<FixtureIn> = {}): Draft {
  const { form } = blank();
  const layout = { board_x_cm: 40, board_y_cm: 24 };
  const lamp = { ...form, name: "Cellar board", kind: "board", layout, ppf_umol_s: 420, watts: 170,
    frame_x_cm: 44, frame_y_cm: 26, weight_kg: 2.4, ...change } as unknown as Fixture; // prettier-ignore
  return fromLamp(lamp);
}
function form(start: Draft, id: number | null = null): ReturnType<typeof vi.fn> {
  const done = vi.fn();
  render(FixtureForm, { start, id, done });
  return done;
}
async function save(name: string): Promise<FixtureIn> {
  await user.click(screen.getByRole("button", { name }));
  await soon();
  return calls[0]?.body as unknown as FixtureIn;
}
async function refuse(): Promise<void> {
  calls.shift()?.reply(422, { detail: "Not yet.", errors: [] });
  await soon(30);
}

describe("a lamp's form", () => {
  it("sends figures with their origins and hands the kept lamp on", async () => {
    const done = form(board(), 7);
    await user.selectOptions(
      screen.getByLabelText("Where the Watts at the wall comes from"),
      "measured",
    );
    const watts = screen.getByLabelText("Watts at the wall (W)");
    await user.clear(watts);
    await user.type(watts, "163,5");
    const body = await save("Keep this record");
    expect(calls[0]?.method).toBe("PUT");
    expect(body.watts).toBe(163.5);
    expect(body.origins).toEqual({ watts: "measured" });
    expect(body.layout).toEqual({ board_x_cm: 40, board_y_cm: 24 });
    calls.shift()?.reply(200, { id: 7, name: "Cellar board" });
    await soon(30);
    expect(done).toHaveBeenCalledWith({ id: 7, name: "Cellar board" });
  });

  it("takes an origin back when it is not said any more", async () => {
    form(board({ origins: { watts: "maker", weight_kg: "maker" } }));
    const from = screen.getByLabelText("Where the Weight comes from");
    expect((from as HTMLSelectElement).value).toBe("maker");
    await user.selectOptions(from, "");
    expect((await save("Add this lamp")).origins).toEqual({ watts: "maker" });
  });

  it("keeps what was typed when refused, with each sentence at its field", async () => {
    form(board());
    await user.type(screen.getByLabelText("Price of one (€)"), "99");
    await save("Add this lamp");
    calls.shift()?.reply(422, {
      detail: "2 fields need a look.",
      errors: [
        { field: "weight_kg", sentence: "Weight (kg) has to be at most 200." },
        { field: "details.leafy_x_cm", sentence: "Give both sides of the floor, or neither." },
      ],
    });
    await soon(30);
    const said = screen.getAllByRole("alert").map((alert) => alert.textContent);
    expect(said).toContain("Weight (kg) has to be at most 200.");
    // what is folded away opens when something in it is wrong
    expect(screen.getByLabelText("Leafy growth, across (cm)").closest("details")?.open).toBe(true);
    expect((screen.getByLabelText("Price of one (€)") as HTMLInputElement).value).toBe("99");
  });

  it("leaves out the fields of another kind, and keeps a layout it has no fields for", async () => {
    const layout = { bar_x_cm: [-20, 0, 25], bar_length_cm: 50 };
    form(board({ kind: "bars", layout }));
    expect(screen.getByText(/placed one by one/)).toBeTruthy();
    expect((await save("Add this lamp")).layout).toEqual(layout);
    await refuse();
    await user.selectOptions(screen.getByLabelText("Kind of lamp"), "bulb");
    expect(screen.queryByText(/placed one by one/)).toBeNull();
    expect((await save("Add this lamp")).layout).toEqual({ point: true });
  });
});

describe("a lamp's spectrum in its form", () => {
  const parts = (): HTMLElement[] => screen.queryAllByLabelText(/^Part of its photons/);

  it("is built from whites and colours", async () => {
    form(board());
    await user.selectOptions(screen.getByLabelText("Known by"), "channels");
    expect(parts()).toHaveLength(1);
    await user.click(screen.getByRole("button", { name: "Add a colour" }));
    const peak = screen.getByLabelText("Its peak, 2 (nm)");
    await user.clear(peak);
    await user.type(peak, "730");
    const body = await save("Add this lamp");
    expect(body.spectrum).toEqual({
      channels: [
        { share: 1, cct_k: 3500, cri: 80 },
        { share: 0.1, peak_nm: 730 },
      ],
    });
    await refuse();
    await user.click(screen.getByRole("button", { name: /Take out\s*light 2/ }));
    expect(parts()).toHaveLength(1);
    // a white that becomes a colour loses its K
    await user.selectOptions(screen.getByLabelText("Light 1"), "colour");
    expect((await save("Add this lamp")).spectrum).toEqual({
      channels: [{ share: 1, peak_nm: 660 }],
    });
  });

  it("is an old lamp's by name, or none", async () => {
    form(board({ spectrum: { lamp: "halide" } }));
    const which = screen.getByLabelText("Which");
    expect((which as HTMLSelectElement).value).toBe("halide");
    await user.selectOptions(screen.getByLabelText("Known by"), "unknown");
    expect((await save("Add this lamp")).spectrum).toBeNull();
  });

  it("keeps a measured one as it is", async () => {
    const spectrum = { wavelength_nm: [400, 500, 700], power: [1, 2, 1] };
    form(board({ spectrum }));
    expect(screen.getByText(/3 points from 400 to 700 nm/)).toBeTruthy();
    expect((await save("Add this lamp")).spectrum).toEqual(spectrum);
  });
});

describe("a draft from a listing in the form", () => {
  it("shows what it says and what is assumed, and leaves the rest empty", () => {
    form(
      fromListing({
        name: "Marram 200",
        kind: "board",
        watts: 200,
        layout: { board_x_cm: 44, board_y_cm: 24 },
        details: { ...blank().form.details, cord_cm: 180 } as FixtureIn["details"],
        origins: { watts: "maker", closest_cm: "assumed" },
      }),
    );
    const value = (label: string): string =>
      (screen.getByLabelText(label) as HTMLInputElement).value;
    expect(value("Watts at the wall (W)")).toBe("200");
    expect(value("Where the Keep away at least comes from")).toBe("assumed");
    expect(value("PPF (µmol/s)")).toBe("");
    expect(value("Across (cm)")).toBe("44");
    const besides = screen.getByText(/What its maker claims/).closest("details");
    expect(
      (within(besides as HTMLElement).getByLabelText("Cord (cm)") as HTMLInputElement).value,
    ).toBe("180");
  });
});

describe("a lamp whose PPF nobody states", () => {
  const ROWS = [
    { way: "lumens", ppf_umol_s: 201.4, low: 180, high: 225, watts: 100 },
    { way: "kind", ppf_umol_s: 230, low: 181, high: 292, watts: 100 },
  ];
  const half = (): Draft =>
    board({ ppf_umol_s: NaN, watts: 100, details: { lumens: 14_000 } } as Partial<FixtureIn>);

  async function answerEstimates(rows = ROWS): Promise<Record<string, unknown>> {
    await soon(400);
    const asked = calls.shift();
    expect(asked?.url).toContain("/api/fixtures/estimate");
    asked?.reply(200, rows);
    await soon(30);
    return asked?.body as unknown as Record<string, unknown>;
  }

  it("is worked out, and what it came from is kept with it", async () => {
    form(half());
    const asked = await answerEstimates();
    expect(asked).toMatchObject({ kind: "board", watts: 100, details: { lumens: 14_000 } });
    await user.click(screen.getByRole("button", { name: "201 µmol/s" }));
    expect((screen.getByLabelText("PPF (µmol/s)") as HTMLInputElement).value).toBe("201");
    await answerEstimates();
    const body = await save("Add this lamp");
    expect(body.ppf_umol_s).toBe(201);
    expect(body.details?.ppf_from).toBe("lumens");
    expect(body.origins?.ppf_umol_s).toBe("assumed");
  });

  it("follows what it was worked out from, until a figure is typed", async () => {
    form(half());
    await answerEstimates();
    await user.click(screen.getByRole("button", { name: "230 µmol/s" }));
    await answerEstimates();
    const watts = screen.getByLabelText("Watts at the wall (W)");
    await user.clear(watts);
    await user.type(watts, "120");
    await answerEstimates([{ way: "kind", ppf_umol_s: 276, low: 217, high: 350, watts: 120 }]);
    const ppf = screen.getByLabelText("PPF (µmol/s)") as HTMLInputElement;
    expect(ppf.value).toBe("276");
    await user.clear(ppf);
    await user.type(ppf, "300");
    const body = await save("Add this lamp");
    expect(body.details?.ppf_from).toBe("");
    expect(body.ppf_umol_s).toBe(300);
  });

  it("lends its watts too where they are not known", async () => {
    form(board({ ppf_umol_s: NaN, watts: NaN, details: { lumens: 14_000 } } as Partial<FixtureIn>));
    await answerEstimates([{ way: "lumens", ppf_umol_s: 201, low: 180, high: 225, watts: 87.4 }]);
    await user.click(screen.getByRole("button", { name: "201 µmol/s" }));
    await answerEstimates([]);
    const body = await save("Add this lamp");
    expect(body.watts).toBe(87);
    expect(body.origins?.watts).toBe("assumed");
  });
});
