import type { ShareOfFew } from '../../../core/recovery/record.ts';

const percent = (share: number): string => (100 * share).toFixed(0);

/** `3 of 12 (12–42 %)`: a share, and between what it lies by so few cases, 8 in 10. */
export function shareWords({ hits, of, low, high }: ShareOfFew): string {
  return of === 0 ? 'none yet' : `${hits} of ${of} (${percent(low)}–${percent(high)} %)`;
}
