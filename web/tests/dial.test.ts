import { render, screen } from "@testing-library/svelte";
import { describe, expect, it } from "vitest";

import DialTable from "../src/places/fixtures/DialTable.svelte";
import { user } from "./user";

const rows = () => [
  { position_pct: 20, watts_fraction: 0.25, light_fraction: 0.3 },
  { position_pct: 100, watts_fraction: 1, light_fraction: 1 },
];

describe("a dial's table", () => {
  it("is typed as the watt meter says, and the shares follow", async () => {
    render(DialTable, { kind: "continuous", rows: rows(), fullWatts: 240 });
    const watts = screen.getByLabelText<HTMLInputElement>("At the plug, row 1 (W)");
    expect(watts.value).toBe("60");
    await user.clear(watts);
    await user.type(watts, "84");
    await user.click(screen.getByRole("checkbox", { name: /Watts as the meter says/ }));
    // 84 of 240 W
    expect(screen.getByLabelText<HTMLInputElement>("Of full watts, row 1 (%)").value).toBe("35");
  });

  it("has no positions where it has no marks", async () => {
    render(DialTable, { kind: "continuous", rows: rows(), fullWatts: 240 });
    expect(screen.getByLabelText("Dial position, row 1 (%)")).toBeTruthy();
    await user.selectOptions(screen.getByLabelText("Kind of dial"), "unmarked");
    expect(screen.queryByLabelText("Dial position, row 1 (%)")).toBeNull();
    expect(screen.getByText(/set by the watts alone/)).toBeTruthy();
  });

  it("asks for shares where nobody knows the full watts", () => {
    render(DialTable, { kind: "continuous", rows: rows(), fullWatts: null });
    expect(screen.getByLabelText("Of full watts, row 1 (%)")).toBeTruthy();
    expect(screen.queryByRole("checkbox")).toBeNull();
  });
});
