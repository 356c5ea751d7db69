import { render, screen } from "@testing-library/svelte";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Grower } from "../src/api/client";
import { account } from "../src/api/grower.svelte";
import AccountPlace from "../src/places/account/AccountPlace.svelte";
import { type Call, caught, soon } from "./replies";
import { user } from "./user";

let calls: Call[];
beforeEach(() => {
  calls = caught();
  account.grower = { name: "Ada", is_demo: false, rates: {} } as unknown as Grower;
});
afterEach(() => {
  vi.unstubAllGlobals();
  account.grower = null;
});

async function opened(doors: unknown[] = []): Promise<void> {
  render(AccountPlace);
  await soon();
  const asked = calls.findIndex((call) => call.url === "/api/accounts/doors");
  calls.splice(asked, 1)[0]?.reply(200, doors);
  await soon(30);
}

describe("your account", () => {
  it("shows where a phone opens it, with a code, and warns of plain http", async () => {
    await opened([{ url: "http://192.168.1.20:8800/", qr: "data:image/svg+xml,x" }]);
    expect(screen.getByRole("link", { name: "http://192.168.1.20:8800/" })).toBeTruthy();
    expect(screen.getByAltText(/as a code for your phone/)).toBeTruthy();
    expect(screen.getByText(/anyone on this network could read passwords/)).toBeTruthy();
  });

  it("says how to open the door where it is shut", async () => {
    await opened();
    expect(screen.getByText("make serve HOST=0.0.0.0")).toBeTruthy();
  });

  it("changes the password and empties the fields", async () => {
    await opened();
    const [present, next] = ["The one you have", "The one to come"].map(
      (label) => screen.getByLabelText(label) as HTMLInputElement,
    );
    await user.type(present as HTMLInputElement, "old enough");
    await user.type(next as HTMLInputElement, "new and grey");
    await user.click(screen.getByRole("button", { name: "Change it" }));
    await soon();
    expect(calls[0]?.body).toEqual({ present: "old enough", new: "new and grey" });
    calls.shift()?.reply(204, null);
    await soon(30);
    expect(next?.value).toBe("");
  });

  it("deletes nothing before it is asked twice, and stays where the password is wrong", async () => {
    await opened();
    await user.click(screen.getByRole("button", { name: "Delete this account…" }));
    expect(screen.getByText(/It does not come back/)).toBeTruthy();
    await user.type(screen.getByLabelText("Your password"), "not mine");
    await user.click(screen.getByRole("button", { name: "Delete it for good" }));
    await soon();
    expect(calls[0]?.body).toEqual({ password: "not mine" });
    calls.shift()?.reply(422, {
      detail: "No.",
      errors: [{ field: "password", sentence: "That is not your present password." }],
    });
    await soon(30);
    expect(screen.getByText("That is not your present password.")).toBeTruthy();
    expect(account.grower).not.toBeNull();
  });

  it("signs out everywhere", async () => {
    await opened();
    await user.click(screen.getByRole("button", { name: "Sign out everywhere" }));
    await soon();
    expect(calls[0]?.url).toBe("/api/accounts/sign-out-everywhere");
    calls.shift()?.reply(200, { grower: null });
    await soon(30);
    expect(account.grower).toBeNull();
  });

  it("has neither password nor end for the demo", async () => {
    account.grower = { name: "Demo grower", is_demo: true } as Grower;
    await opened();
    expect(screen.queryByText("Your password")).toBeNull();
    expect(screen.queryByRole("button", { name: "Sign out everywhere" })).toBeNull();
  });
});
