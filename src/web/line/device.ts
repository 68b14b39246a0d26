/**
 * What pages keep in this browser. A page that is drawn where there is none (`app/drawPage.tsx`) keeps nothing, and finds
 * nothing kept.
 */
export const hasBrowser = typeof document !== 'undefined';

const NOTHING: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> = {
  getItem: () => null,
  setItem: () => undefined,
  removeItem: () => undefined,
};

export const device = hasBrowser ? localStorage : NOTHING;

/** No page has kept anything here yet: what the server draws is what this browser would. */
export const isBlank = (): boolean =>
  !Object.keys(localStorage).some((key) => key.startsWith('cork-ember.'));
