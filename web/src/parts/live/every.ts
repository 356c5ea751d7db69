/** Do something now and every so many seconds, while the page is looked at; returns how to end it. */
export function every(seconds: number, work: () => Promise<unknown>): () => void {
  let busy = false;
  async function turn(): Promise<void> {
    // what cannot be reached just now is asked again the next time
    if (busy || document.hidden) return;
    busy = true;
    await work().catch(() => undefined);
    busy = false;
  }
  void turn();
  const timer = setInterval(() => void turn(), seconds * 1000);
  const seen = (): void => void turn();
  document.addEventListener("visibilitychange", seen);
  return () => {
    clearInterval(timer);
    document.removeEventListener("visibilitychange", seen);
  };
}
