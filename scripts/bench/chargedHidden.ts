import {
  FAMILY_KEYS,
  FAMILY_OF_CAUSE,
  type FamilyKey,
} from '../../src/core/diagnosis/practice/families.ts';
import { featuresOf } from '../../src/core/diagnosis/practice/features.ts';
import { practiceOdds } from '../../src/core/diagnosis/practice/judge.ts';
import { pooledFamilies } from '../../src/core/diagnosis/practice/pooled.ts';
import { causeOdds } from '../../src/core/diagnosis/findings.ts';
import { follow, routeFit, wake } from '../../src/core/diagnosis/outcome.ts';
import type { AfterCharge } from '../../src/core/diagnosis/plainRules.ts';
import { Population } from '../../src/core/diagnosis/population.ts';
import { observe } from '../../src/core/diagnosis/readings/readings.ts';
import { ROUTES } from '../../src/core/diagnosis/routes.ts';
import { Showing, soundOhmsOf } from '../../src/core/diagnosis/showing.ts';
import { TEMPERATURE_LIMITS } from '../../src/core/charging/limits.ts';
import { hasten, restFor } from '../../src/core/rehearsal/hasten.ts';
import { copyBattery } from '../../src/core/simulation/battery.ts';
import { type Random, seeded } from '../../src/core/simulation/random.ts';
import { viewCell } from '../../src/core/simulation/view.ts';
import { say, title } from './figures.ts';
import { type Hidden, hiddenBattery, ofItsOwnRating } from './hiddenBatteries.ts';

/** Below this share of hard sulfate a battery is only flat at the counter: what practice calls light sulfation costs 15 points and more. */
const SULFATED_FROM = 0.1;
const REST_S = 12 * 3600;

/**
 * A hidden battery after a usual full charge and a night's rest, read with the tools that were at hand: each of them half of the
 * time, as the field's are. Null where it took no charge.
 */
function chargedReadings({ truth, subject, sound }: Hidden, random: Random): AfterCharge | null {
  const battery = copyBattery(truth.battery);
  const fit = routeFit(ROUTES.recharge, subject);
  if (!fit) return null;
  if (!wake(battery).isAwake) return null;
  if (hasten(battery, fit, TEMPERATURE_LIMITS.stopC).hot) return null;
  restFor(battery, REST_S);
  const showing = new Showing({ ...truth, battery }, subject);
  const ratings = { ratedCca: 0.06 * subject.cells, wetMassG: 1 };
  const read = (kind: 'rest-volts' | 'cell-sg' | 'load' | 'cca' | 'resistance') =>
    observe(showing, kind, ratings, random);
  const half = (): boolean => random.even() < 0.5;
  const volts = read('rest-volts');
  if (volts?.of !== 'rest-volts') return null;
  const open = subject.chemistry === 'flooded';
  const sg = open && half() ? read('cell-sg') : null;
  const load = half() ? read('load') : null;
  const shown = half() ? read('cca') : null;
  const cca = shown?.of === 'cca' ? ofItsOwnRating(shown, sound, subject) : null;
  const ohms = half() ? read('resistance') : null;
  const outcome = half() ? follow(truth, ROUTES.recharge, fit, open) : null;
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

/** What the counter would call it. */
const familyOf = ({ primary, hard, causes }: Hidden['truth']): FamilyKey =>
  primary === 'light' && hard < SULFATED_FROM
    ? causes.has('flat') || causes.has('deep')
      ? 'flat'
      : 'nothing'
    : FAMILY_OF_CAUSE[primary];

/** Families of hidden simulated batteries once they have been charged, rested and read again. */
export function benchChargedHidden(count = Number(process.env['HIDDEN'] ?? 500)): void {
  const random = seeded(20_262);
  const right = { practice: 0, together: 0, two: 0 };
  const wrong = new Map<string, number>();
  let n = 0;
  let brier = 0;
  for (let i = 0; i < count; i++) {
    const hidden = hiddenBattery(random);
    const { subject, truth, evidence } = hidden;
    const after = chargedReadings(hidden, random);
    if (!after) continue;
    n += 1;
    const population = new Population(subject, evidence, {
      drawn: 2400,
      kept: 360,
      moves: 3,
    }).settle();
    const sound = {
      ...subject,
      // What a maker fills in is on its sheet.
      fullSg: viewCell(hidden.sound, 0).sgTop,
      milliohm: 1000 * soundOhmsOf(subject),
    };
    const practice = practiceOdds(subject, featuresOf(sound, evidence, after));
    const pooled = pooledFamilies(practice, causeOdds(population), true);
    const family = familyOf(truth);
    const said = pooled[0]?.family as FamilyKey;
    right.practice += Number(
      FAMILY_KEYS.reduce((a, b) => (practice.families[b] > practice.families[a] ? b : a)) ===
        family,
    );
    right.together += Number(said === family);
    right.two += Number(pooled.slice(0, 2).some((f) => f.family === family));
    for (const { family: f, chance } of pooled) brier += (chance - Number(f === family)) ** 2;
    if (said !== family) {
      const key = `${truth.primary} taken for ${said}`;
      wrong.set(key, (wrong.get(key) ?? 0) + 1);
    }
  }
  const pc = (share: number): string => `${((100 * share) / n).toFixed(1)} %`;
  title(
    `${n} hidden simulated batteries after a usual charge and a night's rest, half of the readings taken`,
  );
  say('by practice', `${pc(right.practice)} right`, '');
  say(
    'by practice and simulated ones',
    `${pc(right.together)} right`,
    `first two ${pc(right.two)}, Brier ${(brier / n).toFixed(3)}; aim 85 and 90 %`,
  );
  say(
    'most often wrong',
    [...wrong]
      .sort((a, b) => b[1] - a[1])
      .slice(0, 12)
      .map(([w, k]) => `${w} ${k}`)
      .join(', '),
    '',
  );
}
