import { FAMILY_OF_CAUSE, type FamilyKey } from '../../src/core/diagnosis/practice/families.ts';
import { featuresOf, type Sound } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds } from '../../src/core/diagnosis/practice/judge.ts';
import { pooledFamilies } from '../../src/core/diagnosis/practice/pooled.ts';
import { signOdds } from '../../src/core/diagnosis/practice/signs.ts';
import { causeOdds } from '../../src/core/diagnosis/findings.ts';
import { follow, routeFit, wake } from '../../src/core/diagnosis/outcome.ts';
import type { Subject } from '../../src/core/diagnosis/subject.ts';
import type { AfterCharge } from '../../src/core/diagnosis/plainRules.ts';
import { Population } from '../../src/core/diagnosis/population.ts';
import { observe } from '../../src/core/diagnosis/readings/readings.ts';
import { ROUTES } from '../../src/core/diagnosis/routes.ts';
import { Showing, soundOhmsOf } from '../../src/core/diagnosis/showing.ts';
import { TEMPERATURE_LIMITS } from '../../src/core/charging/limits.ts';
import { mean } from '../../src/core/quantities/mean.ts';
import { hasten, restFor } from '../../src/core/rehearsal/hasten.ts';
import { copyBattery, type SimBattery } from '../../src/core/simulation/battery.ts';
import { type Random, seeded } from '../../src/core/simulation/random.ts';
import { viewCell } from '../../src/core/simulation/view.ts';
import { title } from './figures.ts';
import { type Hidden, hiddenBattery, ofItsOwnRating } from './hiddenBatteries.ts';
import {
  atOnce,
  byFlowChart,
  byPractice,
  byRegression,
  bySigns,
  byVoltageOnly,
  type ReadBattery,
  score,
} from './judges.ts';

/** Batteries that are judged, those that classifiers are trained on (other draws), and those that the simulated ones are asked about: 2 s each. */
const JUDGED = Number(process.env['HIDDEN'] ?? 2000);
const TRAINED = 2000;
const ASKED = 100;

/** From here on the counter calls it by that; share of C20, of active mass, and SG between the acid and its top. */
const LINES = { sulfated: 0.1, worn: 0.78, layeredSg: 0.03 } as const;
const REST_S = 12 * 3600;

/** A hidden battery with what was read once it had been charged; family as the counter would call it then. */
interface Charged extends ReadBattery {
  hidden: Hidden;
}

/** What is known of it before it is read. */
const knownOf = (subject: Subject, sound: SimBattery): Sound => ({
  ...subject,
  // What a maker fills in is on its sheet.
  fullSg: viewCell(sound, 0).sgTop,
  milliohm: 1000 * soundOhmsOf(subject),
});

/**
 * Charges a hidden battery in full, with its acid mixed where its cells can be opened, lets it rest for a night and reads it with
 * the tools that were at hand: each of them so often. Null where it took no charge.
 */
function charged(hidden: Hidden, takes: number, random: Random): Charged | null {
  const { truth, subject, sound, evidence } = hidden;
  const battery = copyBattery(truth.battery);
  const open = subject.chemistry === 'flooded';
  if (!wake(battery).isAwake) return null;
  for (const route of open ? [ROUTES.recharge, ROUTES.mix] : [ROUTES.recharge]) {
    const fit = routeFit(route, subject);
    if (!fit || hasten(battery, fit, TEMPERATURE_LIMITS.stopC).hot) return null;
  }
  restFor(battery, REST_S);
  const after = reading(battery, hidden, open, takes, random);
  if (!after) return null;
  return {
    ...subject,
    features: featuresOf(knownOf(subject, sound), evidence, after),
    family: familyOf(truth, battery),
    hidden,
  };
}

function reading(
  battery: SimBattery,
  { truth, subject, sound }: Hidden,
  open: boolean,
  takes: number,
  random: Random,
): AfterCharge | null {
  const showing = new Showing({ ...truth, battery }, subject);
  const ratings = { ratedCca: 0.06 * subject.cells, wetMassG: 1 };
  const read = (kind: 'rest-volts' | 'cell-sg' | 'load' | 'cca' | 'resistance') =>
    observe(showing, kind, ratings, random);
  const taken = (): boolean => random.even() < takes;
  const volts = read('rest-volts');
  if (volts?.of !== 'rest-volts') return null;
  const sg = open && taken() ? read('cell-sg') : null;
  const load = taken() ? read('load') : null;
  const shown = taken() ? read('cca') : null;
  const cca = shown?.of === 'cca' ? ofItsOwnRating(shown, sound, subject) : null;
  const ohms = taken() ? read('resistance') : null;
  const fit = taken() ? routeFit(ROUTES.recharge, subject) : null;
  const outcome = fit && follow(truth, ROUTES.recharge, fit, open);
  return {
    voltageV: volts.voltageV,
    restedH: REST_S / 3600,
    ...(sg?.of === 'cell-sg' ? { sg: sg.sg } : {}),
    ...(load?.of === 'load' ? { load } : {}),
    ...(cca ? { ccaShare: cca.ccaA / cca.ratedA } : {}),
    ...(outcome ? { capacity: outcome.capacity * (1 + 0.03 * random.normal()) } : {}),
    ...(ohms?.of === 'resistance' ? { milliohm: ohms.milliohm } : {}),
  };
}

/** What the counter would call it, now that it has been charged. */
function familyOf({ primary, active, causes }: Hidden['truth'], battery: SimBattery): FamilyKey {
  if (FAMILY_OF_CAUSE[primary] === 'bad-cell' || primary === 'dry') return FAMILY_OF_CAUSE[primary];
  const cells = Array.from({ length: battery.cells }, (_, k) => viewCell(battery, k));
  if (active < LINES.worn) return 'worn';
  if (mean(cells.map((c) => c.hard)) >= LINES.sulfated) return 'sulfated';
  if (mean(cells.map((c) => c.sgMixed - c.sgTop)) >= LINES.layeredSg) return 'layered';
  return causes.has('flat') || causes.has('deep') ? 'flat' : 'nothing';
}

/** Hidden batteries as they came in. */
export const drawArrived = (random: Random, count: number): ReadBattery[] =>
  Array.from({ length: count }, () => {
    const { truth, subject, sound, evidence } = hiddenBattery(random);
    return {
      ...subject,
      features: featuresOf(knownOf(subject, sound), evidence, null),
      family: FAMILY_OF_CAUSE[truth.primary],
    };
  });

/**
 * Hidden batteries once they have been charged in full.
 *
 * @param takes how often each tool was at hand; between two bounds, another for each battery
 */
export function drawCharged(
  random: Random,
  count: number,
  [least, most]: readonly [number, number],
): Charged[] {
  return Array.from({ length: count }, () =>
    charged(hiddenBattery(random), least + (most - least) * random.even(), random),
  ).filter((b) => b !== null);
}

/** Families of hidden simulated batteries once they have been charged, rested and read again. */
export function benchChargedHidden(): void {
  const drawn = (seed: number, count: number, takes: number): Charged[] =>
    drawCharged(seeded(seed), count, [takes, takes]);
  for (const [takes, name] of [
    [0.5, 'half of the readings taken'],
    [1, 'every reading taken'],
  ] as const) {
    const judged = drawn(20_262, JUDGED, takes);
    const trained = drawn(20_263, TRAINED, takes);
    title(
      `${judged.length} hidden simulated batteries after a full charge and a night's rest, ${name}; aim 85 and 90 %`,
    );
    score('by practice', byPractice, judged);
    score('by the signs of simulated ones', bySigns, judged);
    score('by practice and signs', atOnce, judged);
    score('by volts alone', byVoltageOnly(trained), judged);
    score('by a flow chart', byFlowChart, judged);
    score('by logistic regression on other draws', byRegression(trained), judged);
    const asked = judged.slice(0, ASKED);
    score(`by practice, the first ${asked.length}`, byPractice, asked);
    score(`by all three, those ${asked.length}`, together, asked);
  }
}

function together(battery: ReadBattery) {
  const { hidden } = battery as Charged;
  const population = new Population(hidden.subject, hidden.evidence, {
    drawn: 2400,
    kept: 360,
    moves: 3,
  }).settle();
  const odds = pooledFamilies(
    {
      practice: practiceOdds(battery, battery.features),
      signs: signOdds(battery, battery.features),
      causes: causeOdds(population),
    },
    true,
  );
  return Object.fromEntries(odds.map(({ family, chance }) => [family, chance])) as Record<
    FamilyKey,
    number
  >;
}
