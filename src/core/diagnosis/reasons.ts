import { forCells } from '../batteries/chemistry.ts';
import { CAUSE_KEYS, CAUSES, type CauseKey } from './causes.ts';
import type { Evidence } from './evidence.ts';
import type { CauseOdds } from './findings.ts';
import { likelihood, slipChance } from './measurement.ts';
import { LATE, type Member, type Population } from './population.ts';
import { ROUTES } from './routes.ts';
import type { Subject } from './suspect.ts';
import { lowCell } from '../batteries/cells.ts';

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
      const what = describe(e, subject);
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
            sentence: `${describe(e, subject)}: this does not fit the rest, so it was weighed less. Read it again.`,
          },
        ]
      : [];
  });
}

/** A piece of evidence in so many words. */
function describe(evidence: Evidence, subject: Subject): string {
  switch (evidence.of) {
    case 'rest-volts':
      return `${evidence.voltageV.toFixed(2)} V at rest`;
    case 'cell-sg': {
      const low = lowCell(evidence.sg);
      const read = evidence.sg.filter((v): v is number => v !== null);
      if (low && low.below >= 0.03)
        return `Cell ${low.cell} is ${low.below.toFixed(3)} SG below its neighbours`;
      return `SG of the cells even, ${Math.min(...read).toFixed(3)}–${Math.max(...read).toFixed(3)}`;
    }
    case 'cell-volts': {
      const low = lowCell(evidence.volts);
      if (low && low.below >= 0.08)
        return `Cell ${low.cell} is ${low.below.toFixed(2)} V below its neighbours`;
      return 'Volts of the cells even';
    }
    case 'levels': {
      const dry = evidence.levels.filter((l) => l === 'dry').length;
      const low = evidence.levels.filter((l) => l === 'low').length;
      return dry > 0
        ? `Plates bare in ${dry === 1 ? 'one cell' : `${dry} cells`}`
        : low > 0
          ? `Level low in ${low === 1 ? 'one cell' : `${low} cells`}`
          : 'Plates covered in every cell';
    }
    case 'load':
      return `${evidence.underV.toFixed(2)} V under ${evidence.currentA.toFixed(0)} A${evidence.afterV === undefined ? '' : `, back to ${evidence.afterV.toFixed(2)} V`}`;
    case 'cranking':
      return `${evidence.dipV.toFixed(1)} V while cranking`;
    case 'cca':
      return `CCA ${evidence.ccaA.toFixed(0)} of ${evidence.ratedA.toFixed(0)} A`;
    case 'resistance':
      return `${evidence.milliohm.toFixed(1)} mΩ inside`;
    case 'mass':
      return `${(evidence.wetMassG - evidence.massG).toFixed(0)} g lighter than when new`;
    case 'terminals':
      return evidence.white ? 'White growth on the positive post' : 'Clean positive post';
    case 'eye':
      return `Charge eye: ${{ full: 'full', low: 'low', 'no-acid': 'no acid' }[evidence.shows]}`;
    case 'earlier-capacity':
      return `Held ${(100 * evidence.share).toFixed(0)} % ${evidence.yearsAgo < 1 ? 'within the last year' : `${evidence.yearsAgo.toFixed(0)} years ago`}`;
    case 'cycled': {
      const route = evidence.done.routes.at(-1);
      const said = [
        evidence.capacity === null ? null : `${(100 * evidence.capacity).toFixed(0)} % in its test`,
        evidence.restV === null ? null : `${evidence.restV.toFixed(2)} V after its rest`,
        evidence.weekLoss === null
          ? null
          : `${(100 * evidence.weekLoss).toFixed(0)} % lost in the week`,
      ].filter((s) => s !== null);
      return `After “${route ? ROUTES[route].name.toLowerCase() : ''}”: ${said.join(', ')}`;
    }
    case 'charging': {
      const last = evidence.volts.at(-1) ?? 0;
      return `On charge, ${last.toFixed(2)} V after ${(evidence.hours.at(-1) ?? 0).toFixed(1)} h (${(last / forCells(1, subject.cells)).toFixed(1)} V per 12 V)`;
    }
  }
}
