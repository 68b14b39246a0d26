import { CAUSE_KEYS, CAUSES, type CauseKey } from './causes.ts';
import type { Evidence } from './evidence.ts';
import type { CauseOdds } from './findings.ts';
import { describeReading, likelihood, slipChance } from './readings/readings.ts';
import { LATE, type Member, type Population } from './population.ts';
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

/** What one reading says by itself of two causes. */
export interface Reason {
  /** Its place among the evidence. */
  index: number;
  evidence: Evidence['of'];
  what: string;
  favours: CauseKey;
  over: CauseKey;
  /** How many times better it is explained by the one. */
  times: number;
  /** For the leading cause, or against it. */
  speaksFor: boolean;
  sentence: string;
}

/** Below this many times a reading hardly tells two causes apart. */
const WORTH_SAYING = 1.5;
/** A cause this unlikely is not held up as the other explanation. */
const LIKELY = 0.01;
const MOST_TIMES = 100;

/**
 * The readings that moved the odds most, strongest first. Each is weighed by itself, over suspects of the prior
 * that have the one cause as their gravest and those that have the other (Bayes factor).
 */
export function reasonsFor(population: Population, odds: readonly CauseOdds[]): Reason[] {
  const [leading] = [...odds].sort((a, b) => b.gravest - a.gravest);
  if (!leading) return [];
  const { evidence, subject } = population;
  const prior = new Map<CauseKey, number>();
  for (const m of population.drawn)
    prior.set(m.showing.suspect.primary, (prior.get(m.showing.suspect.primary) ?? 0) + m.weight);
  const total = [...prior.values()].reduce((a, b) => a + b, 0);
  const known = CAUSE_KEYS.filter(
    (c) => (prior.get(c) ?? 0) / total > LIKELY || c === leading.cause,
  );
  return evidence
    .flatMap((e, index): Reason[] => {
      const explains = meansByCause(population.drawn, index, e, known);
      const explained = explains.get(leading.cause);
      if (explained === undefined) return [];
      const likely = known.filter((c) => c !== leading.cause && explains.has(c));
      // The strongest rival of all that are known: weighed by how well it stands now, or by how well it explains this reading.
      const weight = (c: CauseKey): number =>
        (odds.find((o) => o.cause === c)?.gravest ?? 0) + 0.01;
      const rival = likely.sort(
        (a, b) => weight(b) * (explains.get(b) as number) - weight(a) * (explains.get(a) as number),
      )[0];
      if (!rival) return [];
      const factor = explained / (explains.get(rival) as number);
      const times = Math.min(MOST_TIMES, factor >= 1 ? factor : 1 / factor);
      if (times < WORTH_SAYING) return [];
      const [favours, over] = factor >= 1 ? [leading.cause, rival] : [rival, leading.cause];
      const what = describeReading(e, subject);
      return [
        {
          index,
          evidence: e.of,
          what,
          favours,
          over,
          times,
          speaksFor: factor >= 1,
          sentence: `${what}: ${named(favours)} explains this ${timesWords(times)} better than ${named(over)}.`,
        },
      ];
    })
    .sort((a, b) => b.times - a.times);
}

const named = (cause: CauseKey): string => `“${CAUSES[cause].name.toLowerCase()}”`;
const timesWords = (times: number): string =>
  times >= MOST_TIMES
    ? 'over 100 times'
    : times < 10
      ? `${times < 3 ? times.toFixed(1) : times.toFixed(0)} times`
      : `${Math.round(times / 5) * 5} times`;

function meansByCause(
  drawn: readonly Member[],
  index: number,
  evidence: Evidence,
  causes: readonly CauseKey[],
): Map<CauseKey, number> {
  const sums = new Map<CauseKey, { weight: number; explains: number; n: number }>();
  for (const m of drawn) {
    const { primary } = m.showing.suspect;
    if (!causes.includes(primary)) continue;
    // A charge takes a simulation to weigh: those who were asked already speak for all.
    if (LATE.includes(evidence.of) && m.said[index] === undefined) continue;
    const said = m.said[index] ?? (m.said[index] = likelihood(m.showing, evidence));
    const sum = sums.get(primary) ?? { weight: 0, explains: 0, n: 0 };
    sum.weight += m.weight;
    sum.explains += m.weight * Math.exp(said);
    sum.n++;
    sums.set(primary, sum);
  }
  return new Map(
    [...sums].flatMap(([cause, { weight, explains, n }]) =>
      n >= 5 ? [[cause, explains / weight] as const] : [],
    ),
  );
}

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
