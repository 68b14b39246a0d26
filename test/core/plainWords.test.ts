import { expect } from 'chai';
import { REPLACED_WORDS } from '../support/replacedWords.ts';
import { sentencesOfSources } from '../support/sentences.ts';

describe('plain words', () => {
  it('no sentence says what is said more plainly elsewhere', () => {
    const sentences = sentencesOfSources();
    expect(sentences.length).to.be.greaterThan(2500);
    const old = sentences.flatMap(({ file, text }) =>
      REPLACED_WORDS.filter(({ pattern }) => pattern.test(text)).map(
        ({ say }) => `${file}: “${text}” → ${say}`,
      ),
    );
    expect(old).to.deep.equal([]);
  });

  it('the list finds what it is to find', () => {
    for (const text of ['It wants charging', 'Volts and warmth', 'Keep the changes', 'Go 1 of 2'])
      expect(
        REPLACED_WORDS.some(({ pattern }) => pattern.test(text)),
        text,
      ).to.equal(true);
    for (const text of ['Save changes', 'Attempt 1 of 2', 'What the seller needs to know'])
      expect(
        REPLACED_WORDS.some(({ pattern }) => pattern.test(text)),
        text,
      ).to.equal(false);
  });
});
