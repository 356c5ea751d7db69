/** What waits on this device, whoever entered it. */

const PLACE = /^idle-canopy outbox: (.+): \d+-\d+-[0-9a-f-]+$/;

/** How many messages of each grower wait here to be sent. */
export function waitingHere(): [grower: string, count: number][] {
  const found = new Map<string, number>();
  for (const place of Object.keys(localStorage)) {
    const grower = PLACE.exec(place)?.[1];
    if (grower) found.set(grower, (found.get(grower) ?? 0) + 1);
  }
  return [...found];
}
