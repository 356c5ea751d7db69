/** A moment in milliseconds as it is sent. */
export const iso = (at: number): string => new Date(at).toISOString();
