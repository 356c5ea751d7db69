import { render, screen } from "@testing-library/svelte";
import { createRawSnippet } from "svelte";
import { describe, expect, it } from "vitest";

import Term from "../src/parts/Term.svelte";
import { TERMS } from "../src/words/terms";

describe("a word of the trade", () => {
  it("says what it means when it is tapped, and not before", async () => {
    const children = createRawSnippet(() => ({ render: () => "<span>DLI</span>" }));
    render(Term, { of: "dli", children });
    const word = screen.getByRole("button", { name: "DLI" });
    const note = document.getElementById(word.getAttribute("popovertarget") ?? "");
    expect(note?.textContent).toBe("");
    const opens = new Event("beforetoggle");
    Object.assign(opens, { newState: "open" });
    note?.dispatchEvent(opens);
    await Promise.resolve();
    expect(note?.textContent).toContain("PPFD × hours × 0.0036");
  });

  it("is explained in plain words, and shortly", () => {
    for (const { name, text } of Object.values(TERMS)) {
      expect(name.length).toBeLessThan(50);
      expect(text.split(/\s+/).length).toBeLessThan(50);
      expect(text).toMatch(/[.:]/);
    }
  });
});
