import { render, screen } from "@testing-library/svelte";
import { describe, expect, it, vi } from "vitest";

import { Refusal } from "../src/api/client";
import { differing, pathWords, together, valueWords } from "../src/parts/form/elsewhere";
import Elsewhere from "../src/parts/form/Elsewhere.svelte";
import { Form } from "../src/parts/form/form.svelte";
import { user } from "./user";

const BEGAN = {
  name: "Asters",
  habit: "pots",
  stages: [
    { id: 1, name: "Cuttings", days: 14 },
    { id: 2, name: "Leafy", days: 21 },
  ],
};
const copy = (): typeof BEGAN => structuredClone(BEGAN);

describe("what was changed elsewhere", () => {
  it("is told field by field, and whether it was changed here too", () => {
    const [mine, theirs] = [copy(), copy()];
    mine.name = "My asters";
    theirs.name = "Their asters";
    theirs.habit = "carpet";
    expect(differing(BEGAN, mine, theirs)).toEqual([
      { path: "name", mine: "My asters", theirs: "Their asters", both: true },
      { path: "habit", mine: "pots", theirs: "carpet", both: false },
    ]);
    // what only I changed, or both alike, is no question
    expect(differing(BEGAN, mine, copy())).toEqual([]);
    expect(differing(BEGAN, mine, { ...copy(), name: "My asters" })).toEqual([]);
  });

  it("keeps a stage that was added there, in its place", () => {
    const [mine, theirs] = [copy(), copy()];
    theirs.stages.splice(1, 0, { id: 9, name: "Pinched", days: 7 });
    mine.name = "Mine";
    const found = differing(BEGAN, mine, theirs);
    expect(found.map((row) => row.path)).toEqual(["stages.#9"]);
    expect(found[0]?.both).toBe(false);
    const made = together(mine, theirs, ["stages.#9"]) as typeof BEGAN;
    expect(made.stages.map((stage) => stage.name)).toEqual(["Cuttings", "Pinched", "Leafy"]);
    expect(made.name).toBe("Mine");
    expect(pathWords("stages.#9", [theirs, mine])).toBe("stages, Pinched");
  });

  it("puts stages together field by field, and lets go of one taken out there", () => {
    const [mine, theirs] = [copy(), copy()];
    theirs.stages = [{ id: 2, name: "Leafy", days: 28 }];
    mine.stages = [...copy().stages, { name: "New here", days: 3 } as (typeof BEGAN.stages)[0]];
    const paths = differing(BEGAN, mine, theirs).map((row) => row.path);
    expect(paths).toEqual(["stages.#2.days", "stages.#1"]);
    const made = together(mine, theirs, paths) as typeof BEGAN;
    expect(made.stages).toEqual([
      { id: 2, name: "Leafy", days: 28 },
      { name: "New here", days: 3 },
    ]);
  });

  it("says values as people do", () => {
    expect([undefined, null, true, { name: "X" }, [1, 2], 12].map(valueWords)).toEqual([
      "not there",
      "nothing",
      "yes",
      "“X”",
      "2 rows",
      "12",
    ]);
  });
});

describe("a form of a row that was changed elsewhere", () => {
  it("keeps nothing before it is said what holds", async () => {
    const form = new Form();
    const [mine, theirs] = [
      { ...copy(), name: "Mine" },
      { ...copy(), name: "Theirs", habit: "carpet" },
    ];
    const take = vi.fn();
    render(Elsewhere, { form, began: BEGAN, mine, take });
    await form.send(() => Promise.reject(new Refusal(412, "Changed elsewhere.", {}, theirs)));
    await Promise.resolve();
    const work = vi.fn(() => Promise.resolve());
    expect(await form.send(work)).toBe(false);
    expect(work).not.toHaveBeenCalled();
    expect(form.general).toContain("say above what holds");
    // what was not touched here is taken from there; what was, stays unless it is said
    await user.click(await screen.findByRole("button", { name: "there: Theirs" }));
    await user.click(screen.getByRole("button", { name: "here: pots" }));
    await user.click(screen.getByRole("button", { name: "Put it together so" }));
    expect(take).toHaveBeenCalledWith({ ...copy(), name: "Theirs", habit: "pots" }, theirs);
    expect(await form.send(work)).toBe(true);
  });
});
