/** A key of what is sent: a random UUID, made without the calls that plain http withholds. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  // version 4, variant 1 (RFC 9562)
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
  return [8, 12, 16, 20].reduceRight((text, at) => `${text.slice(0, at)}-${text.slice(at)}`, hex);
}
