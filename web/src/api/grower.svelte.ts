/** Who is signed in, and how they want to be spoken to. */

import { answer, client, type Grower, type Preferences } from "./client";

class Account {
  grower = $state<Grower | null>(null);
  unit = $derived(this.grower?.length_unit ?? "cm");
  /** °F with inches and °C with centimetres, unless the grower mixes them. */
  temperature = $derived<"C" | "F">(
    this.grower?.temperature_unit || (this.unit === "in" ? "F" : "C"),
  );
  currency = $derived(this.grower?.currency ?? "€");
  /** What one of another money is in the grower's own, as they say. */
  rates = $derived<Record<string, number>>(this.grower?.rates ?? {});
  /** The day it is by the grower's clock. */
  today = $derived(this.grower?.today ?? "");

  async look(): Promise<void> {
    this.grower = (await answer(client.GET("/api/accounts/session"))).grower;
  }

  async enter(how: "sign-in" | "sign-up", name: string, password: string): Promise<void> {
    const body = { name, password };
    const { grower } = await answer(
      how === "sign-in"
        ? client.POST("/api/accounts/sign-in", { body })
        : client.POST("/api/accounts/sign-up", { body: { ...body, time_zone: timeZone() } }),
    );
    this.grower = grower;
  }

  async leave(): Promise<void> {
    await answer(client.POST("/api/accounts/sign-out"));
    this.grower = null;
  }

  async leaveEverywhere(): Promise<void> {
    await answer(client.POST("/api/accounts/sign-out-everywhere"));
    this.grower = null;
  }

  /** Delete the account with everything of it. */
  async delete(password: string): Promise<void> {
    await answer(client.POST("/api/accounts/delete", { body: { password } }));
    this.grower = null;
  }

  async changePassword(present: string, next: string): Promise<void> {
    await answer(client.POST("/api/accounts/password", { body: { present, new: next } }));
  }

  /** Where a phone on the home network opens this. */
  doors(): Promise<{ url: string; qr: string }[]> {
    return answer(client.GET("/api/accounts/doors"));
  }

  async prefer(body: Preferences): Promise<void> {
    this.grower = await answer(client.PUT("/api/accounts/preferences", { body }));
  }

  async timeZones(): Promise<string[]> {
    return answer(client.GET("/api/accounts/time-zones"));
  }
}

/** Where the browser says it is. */
export function timeZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
}

export const account = new Account();
