import { soundOhmsOf } from '../showing.ts';
import { normal, OFF } from './errors.ts';
import type { ReadingModule } from './reading.ts';

export const cca: ReadingModule<'cca'> = {
  compare(showing, { ccaA, ratedA }) {
    const ratio =
      Math.log(Math.max(1e-3, ccaA) / ratedA) -
      Math.log(soundOhmsOf(showing.subject) / showing.ohms);
    return { fits: normal(ratio, OFF.ccaLog), flat: -Math.log(5) };
  },
  observe: (showing, { ratings: { ratedCca }, random }) =>
    ratedCca === null
      ? null
      : {
          of: 'cca',
          ratedA: ratedCca,
          ccaA:
            ratedCca *
            (soundOhmsOf(showing.subject) / showing.ohms) *
            Math.exp(OFF.ccaLog * random.normal()),
        },
  describe: ({ ccaA, ratedA }) => `CCA ${ccaA.toFixed(0)} of ${ratedA.toFixed(0)} A`,
};
