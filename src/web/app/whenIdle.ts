/** How long after the page stands it is taken to be at rest, ms. */
const AFTER_MS = 2500;

/** Does work that nobody waits for once the page has been drawn and the line is free. */
export function whenIdle(work: () => void): void {
  const idle = globalThis.requestIdleCallback ?? ((then: () => void) => setTimeout(then, 1));
  const later = () => setTimeout(() => idle(work), AFTER_MS);
  if (document.readyState === 'complete') later();
  else addEventListener('load', later, { once: true });
}
