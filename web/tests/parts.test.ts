import { render, screen } from "@testing-library/svelte";
import { describe, expect, it, vi } from "vitest";

import type { Bench, Grower, LimitName, Obstacle } from "../src/api/client";
import { account } from "../src/api/grower.svelte";
import Elevation from "../src/parts/elevation/Elevation.svelte";
import Floor from "../src/parts/floor/Floor.svelte";
import Figure from "../src/parts/form/Figure.svelte";
import DialRail from "../src/parts/rails/DialRail.svelte";
import HoursRail from "../src/parts/rails/HoursRail.svelte";
import AnswerLine from "../src/places/bench/AnswerLine.svelte";
import Reasons from "../src/places/bench/Reasons.svelte";
import { layoutOf } from "../src/places/fixtures/layout";
import { chanceWords, obstacleWords } from "../src/words/reasons";
import { sample } from "./sample";
import { user } from "./user";

const bench = sample();
const LIMITS: LimitName[] = [
  "hot_spot_cap", "evenness", "ppfd_low", "ppfd_high", "dli_low", "dli_high",
]; // prettier-ignore
const [height, dial, hours] = bench.stretches;
if (!height || !dial || !hours) throw new Error("the sample has three stretches");

const answer = {
  unit: "cm" as const,
  atPlan: true,
  aim: "middle" as const,
  overCap: false,
  giveUpCap: vi.fn(),
};
const reasons = {
  atPlan: true,
  unit: "cm" as const,
  currency: "€",
  toNearest: vi.fn(),
  lock: vi.fn(),
};

describe("rails", () => {
  it("tell those who hear them where the targets are met", () => {
    const geometry = bench.geometry;
    render(Elevation, {
      geometry, step: 2.54 / 4, stretch: height, value: 40, plan: 40, light: 0.5, unit: "in", move: vi.fn(),
    }); // prettier-ignore
    const slider = screen.getByRole("slider", { name: "Height above the tops" });
    // 40, 30 and 60 cm in quarters of an inch
    expect(slider.getAttribute("aria-valuetext")).toBe(
      "15.75 in; meets the targets at 11.75 in to 23.5 in",
    );
  });

  it("move by keys", async () => {
    const move = vi.fn();
    render(DialRail, {
      dial: bench.dial, stretch: dial, value: 50, plan: 50, watts: 100, lightFraction: 0.52, move,
    }); // prettier-ignore
    screen.getByRole("slider").focus();
    await user.keyboard("{ArrowRight}{PageDown}{End}");
    expect(move.mock.calls.flat()).toEqual([51, 40, 100]);
  });

  it("say that a lamp has no dial", () => {
    render(DialRail, {
      dial: { kind: "none", marks: [], positions_pct: [100] },
      stretch: dial, value: 100, plan: 100, watts: 30, lightFraction: 1, move: vi.fn(),
    }); // prettier-ignore
    expect(screen.queryByRole("slider")).toBeNull();
    expect(screen.getByText(/has no dial/)).toBeTruthy();
  });

  it("show hours past midnight as two lit pieces", () => {
    const { container } = render(HoursRail, {
      stretch: hours, value: 12, plan: 12, onMinute: 1200, windows: [], nightHours: 12, sun: null, stepMin: 15, price: [], lostHours: 0, rampMin: 0, middleHours: null,
      move: vi.fn(), moveOn: vi.fn(),
    }); // prettier-ignore
    expect(container.querySelectorAll("rect.on")).toHaveLength(2);
    expect(screen.getByText(/20:00 to 08:00/)).toBeTruthy();
  });
});

describe("the floor", () => {
  it("reads the middle first, then where the keys go", async () => {
    render(Floor, { bench, unit: "cm" });
    const readout = document.getElementById("spot");
    // 400 umol x 12 h x 0.0036 = 17.3 mol; 400 / 271 = 148 %
    expect(readout?.textContent).toContain("400 µmol, DLI 17.3, 148 % of the mean");
    screen.getByRole("application").focus();
    await user.keyboard("{ArrowLeft}{ArrowDown}");
    expect(readout?.textContent).toContain("20 cm from the left, 15 cm from the front: 210");
    await user.keyboard("{ArrowLeft}");
    expect(readout?.textContent).toContain("20 cm from the left");
  });
});

describe("the answer", () => {
  it("says what to do and what decides it", () => {
    render(AnswerLine, { bench, ...answer });
    expect(screen.getByRole("heading").textContent).toMatch(/Hang it at\s+40 cm above the tops/);
    expect(screen.getByText(/It would be better without the evenness goal/)).toBeTruthy();
  });

  it("says what is given up, what would help, and gives up the cap on request", async () => {
    const obstacles = [
      { name: "dli_low" as const, best: 8, asked: 10, change: "higher_cap" as const, amount: 750,
        reach: 8 },
      { name: "evenness" as const, best: 0.5, asked: 0.6, change: "lower_goal" as const,
        amount: 0.5, reach: 0.7 },
    ]; // prettier-ignore
    const relaxed = ["dli_low" as const];
    const solution = { ...bench.solution, fits: false, relaxed, obstacles, cap_in_the_way: true };
    render(AnswerLine, { bench: sample({ solution }), ...answer });
    expect(screen.getByRole("heading").textContent).toContain("The nearest you can get");
    const said = screen.getByText(/gives up the DLI band/).textContent?.replace(/\s+/g, " ");
    expect(said).toContain("gives up the DLI band. DLI comes to 8, wanted at least 10: the cap");
    expect(said).toContain("a cap of 750 would do. The dimmest spot is 0.5 of the mean");
    await user.click(screen.getByRole("button", { name: /without the hot-spot cap/ }));
    expect(answer.giveUpCap).toHaveBeenCalledWith(true);
  });
});

describe("the answer to an own setting", () => {
  const off = (name: "dli_high" | "dli_low" | "hot_spot_cap", holds = false): Bench["limits"] =>
    bench.limits.map((limit) => (limit.name === name ? { ...limit, holds } : limit));

  it("tells a figure from the limit it misses, however near", () => {
    const stage = { ...bench.stage, dli_low: 14, dli_high: 14 };
    const outcome = { ...bench.outcome, dli: 14.02, peak: 480.4 };
    const limits = off("dli_high").map((limit) =>
      limit.name === "hot_spot_cap" ? { ...limit, holds: false } : limit,
    );
    render(AnswerLine, { bench: sample({ stage, outcome, limits }), ...answer, atPlan: false });
    const said = screen.getByText(/Brightest spot/).textContent?.replace(/\s+/g, " ");
    expect(said).toContain("DLI 14.02 mol/m², above 14.");
    expect(said).toContain("Brightest spot 480.4, over the cap of 480.");
  });

  it("says what decides the plan as the plan's, and never that nothing binds", () => {
    const solution = { ...bench.solution, binding: [] };
    render(AnswerLine, { bench: sample({ solution, limits: off("dli_high") }), ...answer,
      atPlan: false, aim: "energy" }); // prettier-ignore
    expect(screen.getByText(/The plan's choice meets every target/).textContent).toContain(
      "Chosen: the fewest trips, then the least energy. No target holds it back.",
    );
    expect(screen.queryByText(/[Nn]othing binds/)).toBeNull();
  });

  it("claims no more of what is missed than that it is missed", () => {
    render(Reasons, { bench: sample({ limits: off("dli_high") }), ...reasons });
    expect(screen.queryByText(/What holds above/)).toBeNull();
    expect(screen.getByText(/Targets that are met stay met/)).toBeTruthy();
  });
});

describe("the words of an obstacle", () => {
  const CHANGES: Obstacle["change"][] = [
    "unlock", "beyond_maker", "more_hours", "higher_cap", "stronger_lamp", "weaker_dial", "less_daylight",
    "lower_goal", "wider_band", "between_steps", "other_lamp",
  ]; // prettier-ignore
  it("say in tenths how likely it is, and what a reading would make of it", () => {
    expect(chanceWords(0.83, 0.91)).toBe(
      "How likely every target holds on every day: about 8 in 10; a reading that agrees would make it 9.",
    );
    expect(chanceWords(0.98, 1)).toBe(
      "How likely every target holds on every day: nearly certain.",
    );
    expect(chanceWords(0.02, 0.3)).toContain(
      "hardly likely; a reading that agrees would make it 3.",
    );
  });

  it.each(CHANGES)("%s: end as sentences, with a change that is more than nothing", (change) => {
    for (const name of LIMITS) {
      const words = obstacleWords({
        name,
        best: 9.96,
        asked: 10,
        change,
        amount: 0.25,
        reach: 9.96,
      });
      expect(words).toMatch(/^[A-Z][^.]*\S.*\.$/);
      expect(words).not.toMatch(/undefined|NaN|Infinity|−|-\d/);
      // the two figures are never the same
      expect(words).not.toMatch(/ 10, wanted \S* ?\S* ?10\b|10 of the mean, wanted 10\b/);
    }
  });
});

describe("the reasons", () => {
  it("put the ends of a band in one row and say how sure", () => {
    render(Reasons, { bench, ...reasons });
    expect(screen.getByRole("row", { name: /DLI 13.0 10 to 16/ })).toBeTruthy();
    expect(screen.getByText(/holds over all of that/)).toBeTruthy();
    expect(screen.getByText(/can stay where it hangs: the tops end 30 cm away/)).toBeTruthy();
    expect(screen.getByText(/surely 35 cm–50 cm/)).toBeTruthy();
  });

  it("offer the nearest position that works", async () => {
    const setting = { ...bench.setting, height_cm: 20 };
    render(Reasons, { bench: sample({ setting }), ...reasons });
    await user.click(screen.getByRole("button", { name: "go to 40 cm" }));
    expect(reasons.toNearest).toHaveBeenCalledWith({ height_cm: 40 });
  });

  it("name the day the plants come too near", () => {
    const rehang = {
      ...bench.rehang,
      left_cm: 10,
      first_day: 16,
      fails: ["clearance" as const],
      peak_umol_m2_s: null,
    };
    render(Reasons, { bench: sample({ rehang }), ...reasons });
    expect(screen.getByText(/Left where it hangs/).textContent).toMatch(
      /from day 16\s+it is too near; the tops would end 10 cm away/,
    );
  });

  it("list where the plan hangs it, when it hangs it more than once", () => {
    const first = bench.hangings[0];
    if (!first) throw new Error("the sample hangs");
    const then = { ...first, day: 9, above_floor_cm: 73, above_tops_cm: 41, left_cm: 33, by_cm: 8 };
    const hangings = [first, { ...then, dial_pct: 45 }];
    render(Reasons, { bench: sample({ hangings }), ...reasons });
    const said = screen
      .getAllByRole("listitem")
      .filter((each) => /above the tops/.test(each.textContent))
      .map((each) => each.textContent?.trim());
    expect(said[0]).toMatch(/^First day: 65 cm\s+above the floor, 40 cm above the tops$/);
    expect(said[1]).toMatch(/^Day 9: 73 cm\s+above the floor, 41 cm above the tops, dial 45$/);
  });
});

describe("fields", () => {
  it("keep what was typed, in the unit on show", async () => {
    account.grower = { length_unit: "in" } as Grower;
    render(Figure, { label: "Width", value: 93, kind: "length" });
    const input = screen.getByLabelText<HTMLInputElement>("Width (in)");
    expect(input.value).toBe("36.61");
    await user.clear(input);
    await user.type(input, "3,5x");
    expect(input.value).toBe("3,5x");
    input.blur();
    // not a number: it stays on show to be mended
    expect(input.value).toBe("3,5x");
  });

  it("turn a lamp's figures into the scene format's layout", () => {
    expect(layoutOf("bars", { bars: 4, bar_length_cm: 50, spread_cm: 40 })).toEqual({
      bars: 4,
      bar_length_cm: 50,
      spread_cm: 40,
    });
    expect(layoutOf("strip", { bar_length_cm: 50 })).toEqual({
      bar_length_cm: 50,
      bars: 1,
      spread_cm: 0,
    });
    expect(layoutOf("bulb", {})).toEqual({ point: true });
    expect(layoutOf("board", { board_x_cm: 30 })).toEqual({ board_x_cm: 30, board_y_cm: null });
  });
});
