/** The pages of the records. */
export const RECORD_PAGES = [
  ['/records', 'Batteries'],
  ['/records/claims', 'Claims'],
  ['/records/failures', 'What fails'],
  ['/records/recoveries', 'Recoveries'],
  ['/records/promises', 'Promises'],
  ['/records/services', 'Services'],
] as const;
