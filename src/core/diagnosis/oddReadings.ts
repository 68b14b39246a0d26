import type { Evidence } from './evidence.ts';
import { describeReading, slipChance } from './readings/readings.ts';
import type { Member } from './population.ts';
import type { Subject } from './subject.ts';

/** Readings that no battery of any picture shows, to be looked at again. */
export const oddByPractice = (
  evidence: readonly Evidence[],
  subject: Subject,
  strange: readonly (number | null)[],
): { index: number; sentence: string }[] =>
  strange.flatMap((index) => {
    const e = index === null ? undefined : evidence[index];
    return index === null || !e
      ? []
      : [
          {
            index,
            sentence: `${describeReading(e, subject)}: no battery reads so. Read it again.`,
          },
        ];
  });

/** Readings that do not fit the rest and were weighed less for it, by their place among the evidence. */
export function oddOnesOut(
  members: readonly Member[],
  evidence: readonly Evidence[],
  subject: Subject,
): { index: number; sentence: string }[] {
  return evidence.flatMap((e, index) => {
    const slip = members.reduce((sum, m) => sum + m.weight * slipChance(m.showing, e), 0);
    return slip > 0.5
      ? [
          {
            index,
            sentence: `${describeReading(e, subject)}: this does not fit the rest, so it was weighed less. Read it again.`,
          },
        ]
      : [];
  });
}
