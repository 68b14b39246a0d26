/**
 * A case of the drill runs on the job's own pages, under an address of its own and on a bench in the page: nothing of it may meet
 * what the pages of the shop keep in this browser. Which of the two a page is, its address says for as long as it is open.
 */
const CASE = /^\/drill\/case\/([\w-]+)/;

const caseHere = typeof location === 'undefined' ? null : CASE.exec(location.pathname);

/** The attempt that these pages belong to; null on the pages of the shop. */
export const attemptHere: string | null = caseHere?.[1] ?? null;
export const inDrill = attemptHere !== null;
/** What addresses of these pages begin with. */
export const pagesUnder = caseHere?.[0] ?? '/';

/** The address of an attempt's own pages; it is gone to with a new page, never within the shop's. */
export const caseAddress = (attemptId: string, path = ''): string =>
  `/drill/case/${attemptId}${path}`;

/** Under which name these pages keep something in the browser. */
export const keptUnder = (name: string): string =>
  inDrill ? `cork-ember.drill.${name}` : `cork-ember.${name}`;

/** The one job of a case. */
export const CASE_JOB = 'case';
