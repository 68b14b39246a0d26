import type { ToldWork } from '../core/dayplan/told.ts';

/** Addresses of pages that the server names too: in a calendar, on paper. */

/** Where a work of the day plan is done. */
export function pageOfWork({ of, id, tag }: Pick<ToldWork, 'of' | 'id' | 'tag'>): string {
  switch (of) {
    case 'job':
      return `/jobs/${id}`;
    case 'recharge':
      return `/batteries/${encodeURIComponent(tag)}`;
    case 'round':
      return '/shelf/round';
    case 'services':
      return '/records/services';
    case 'claim':
      return '/records/claims';
  }
}
