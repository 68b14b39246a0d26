/** What the server and the pages it draws agree on; each is built by itself, and neither imports the other. */

/** Answers by the path they were asked at, as JSON; null where none came in time. */
export type KnownAnswers = Readonly<Record<string, string | null>>;

/** The parts of a document, as they stand in it. */
export interface Drawn {
  html: string;
  /** What it was drawn from, JSON. */
  from: string;
}

/** A page, or which answers it wants first, or that there is nothing of it to show. */
export type Drawing = Drawn | { wants: string[] } | 'nothing';

/** The element of the document that holds what its page was drawn from. */
export const DRAWN_FROM = 'drawn-from';
