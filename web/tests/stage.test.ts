import { render, screen } from "@testing-library/svelte";
import { describe, expect, it } from "vitest";

import type { StageIn } from "../src/api/client";
import { crops } from "../src/api/crops.svelte";
import StageFields from "../src/places/space/StageFields.svelte";
import { sample } from "./sample";
import { user } from "./user";

describe("a stage", () => {
  it("takes its band from the words of a plant's label, and says so", async () => {
    crops.labels = [{ key: "low", label: "Low light", dli_low: 2, dli_high: 5 }];
    const stage = { ...sample().stage, ppfd_low: 200, ppfd_high: 300 } as StageIn;
    render(StageFields, { stage, number: 1 });
    await user.selectOptions(screen.getByLabelText("or as its label says"), "low");
    expect(stage).toMatchObject({ dli_low: 2, dli_high: 5, ppfd_low: null, ppfd_high: null });
    expect(stage.provenance).toContain('the words "Low light" of a plant\'s label');
  });
});
