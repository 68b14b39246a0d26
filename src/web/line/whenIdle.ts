import { hasBrowser } from './device.ts';

/**
 * Does work that nobody waits for, once the page has been drawn and the line is free.
 *
 * @param afterMs how long after the page stands it is taken to be at rest
 */
export function whenIdle(work: () => void, afterMs: number): void {
  if (!hasBrowser) return;
  const idle = globalThis.requestIdleCallback ?? ((then: () => void) => setTimeout(then, 1));
  const later = () => setTimeout(() => idle(work), afterMs);
  if (document.readyState === 'complete') later();
  else addEventListener('load', later, { once: true });
}
