/**
 * How hard a text is to read: the Flesch–Kincaid grade (Kincaid et al. 1975), 0.39 × words a sentence + 11.8 × syllables a word − 15.59.
 * Syllables are counted by groups of vowels, which is right to about one in twenty.
 *
 * @returns years of school
 */
export function readingGrade(text: string): number {
  const sentences = text.split(/[.!?:;]+(?:\s|$)/).filter((s) => /[a-z]/i.test(s));
  const words = text.match(/[A-Za-z’'-]+/g) ?? [];
  if (sentences.length === 0 || words.length === 0) return 0;
  const syllables = words.reduce((sum, word) => sum + syllablesOf(word), 0);
  return 0.39 * (words.length / sentences.length) + 11.8 * (syllables / words.length) - 15.59;
}

function syllablesOf(word: string): number {
  const plain = word.toLowerCase().replace(/[^a-z]/g, '');
  if (plain.length <= 3) return 1;
  const groups = plain
    .replace(/(?:[^laeiouy]es|ed|[^laeiouy]e)$/, '')
    .replace(/^y/, '')
    .match(/[aeiouy]{1,2}/g);
  return Math.max(1, groups?.length ?? 1);
}
