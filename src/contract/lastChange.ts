/** Beside an answer: the last change that was known of when it was read. Whoever follows the changes begins after it. */
export const LAST_CHANGE = 'Last-Change';
