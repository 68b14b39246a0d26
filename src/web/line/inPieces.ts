/** A piece of work after which whoever types or taps is served first, ms. */
const PIECE_MS = 4;

/** Lets the page answer and draw before what follows goes on. */
export const pause = (): Promise<void> => new Promise((goOn) => setTimeout(goOn));

/** Does the work for each of them, a few milliseconds at a time. */
export async function inPieces<T>(items: readonly T[], work: (item: T) => void): Promise<void> {
  let since = performance.now();
  for (const item of items) {
    work(item);
    if (performance.now() - since < PIECE_MS) continue;
    await pause();
    since = performance.now();
  }
}
