/** Why a page gets no camera, in words; null where it may ask for one. */
export const cameraFault = (trusted: boolean, has: boolean): string | null =>
  !trusted
    ? 'A phone gives its camera only to a page it trusts. Trust the shop’s certificate once, then open the bench by https. Everything else works without it.'
    : !has
      ? 'This browser has no camera to offer.'
      : null;
