import { DiagnosisRun } from '../../src/core/diagnosis/diagnose.ts';
import type { RouteKey } from '../../src/core/diagnosis/routes.ts';
import { ROUTES } from '../../src/core/diagnosis/routes.ts';
import { costOf, DEFAULT_STAKES, priceOf, WORTH } from '../../src/core/diagnosis/stakes.ts';
import { GRADE_LINES, gradeOf } from '../../src/core/diagnosis/grades.ts';
import { seeded } from '../../src/core/simulation/random.ts';
import {
  fieldBattery,
  fieldQuestion,
  helpsInTheField,
  type FieldBattery,
} from '../../test/support/fieldBattery.ts';
import { say, title } from './figures.ts';

const AT_ONCE = 2000;
/** With simulated batteries it takes seconds each. */
const SIMULATED = 120;
/** Usual hours of a charge, and of a route of days, h. */
const HOURS: Readonly<Partial<Record<RouteKey, number>>> = { recharge: 14, mix: 18 };
const LONG_H = 50;
/** A capacity test of a shop is good to so much, share of C20. */
const TEST_OFF = 0.03;
/** What comes back costs a third of its price and half an hour. */
const BACK = { share: 0.3, hours: 0.5 };

interface Tally {
  money: number;
  scrappedGood: number;
  good: number;
  sentOutBad: number;
  sentOut: number;
  forbidden: number;
}

/** What becomes of batteries of the field by decisions: whose they are, and what goes wrong. */
export function benchFieldDecisions(): void {
  const random = seeded(73);
  const batteries = Array.from({ length: AT_ONCE }, () =>
    fieldBattery(random, { charged: false, takes: 0.7 }),
  );
  title(`${AT_ONCE} batteries of the field, decided on arrival, tested before they go out`);
  const noise = (): number => TEST_OFF * random.normal();
  const byAnswer =
    (settled: boolean) =>
    (b: FieldBattery): RouteKey | null => {
      const run = new DiagnosisRun(fieldQuestion(b));
      return (settled ? run.settle() : run.byReadings()).proposal.route;
    };
  const arrival = (b: FieldBattery): number =>
    b.evidence[0]?.of === 'rest-volts' ? b.evidence[0].voltageV : 12;
  report('this application, at once', tally(batteries, byAnswer(false), noise));
  const few = batteries.slice(0, SIMULATED);
  report(`this application, settled (${SIMULATED})`, tally(few, byAnswer(true), noise));
  report(`at once, the same ${SIMULATED}`, tally(few, byAnswer(false), noise));
  report(
    'scrap below 10.5 V, charge the rest',
    tally(batteries, (b) => (arrival(b) < 10.5 ? null : 'recharge'), noise),
  );
  report(
    'charge all',
    tally(batteries, () => 'recharge', noise),
  );
  report(
    'a slow restore for all',
    tally(batteries, () => 'slow-restore', noise),
  );
  report('a seer', tally(batteries, seer, noise));
}

/** Knows what it is, and takes the cheapest way that pays. */
function seer(b: FieldBattery): RouteKey | null {
  const worth = (route: RouteKey): number => valueOf(b, route, held(b, route));
  const routes: RouteKey[] = [
    'recharge',
    'slow-restore',
    ...(b.chemistry === 'flooded' ? ['mix' as const] : []),
  ];
  const best = routes.reduce((x, y) => (worth(y) > worth(x) ? y : x));
  return worth(best) > 0 ? best : null;
}

const held = (b: FieldBattery, route: RouteKey): number =>
  helpsInTheField(b, route) ? b.recovers : Math.min(b.charged, b.recovers);

function valueOf(b: FieldBattery, route: RouteKey, capacity: number): number {
  const cost = costOf(
    { hours: HOURS[route] ?? LONG_H, failed: null },
    ROUTES[route],
    DEFAULT_STAKES,
  );
  const grade = gradeOf(capacity, b.leaks ? 1 : 0, GRADE_LINES);
  return WORTH[grade] * priceOf(b.c20Ah, DEFAULT_STAKES) - cost;
}

function tally(
  batteries: readonly FieldBattery[],
  decide: (b: FieldBattery) => RouteKey | null,
  noise: () => number,
): Tally & { n: number } {
  const t: Tally = { money: 0, scrappedGood: 0, good: 0, sentOutBad: 0, sentOut: 0, forbidden: 0 };
  for (const b of batteries) {
    const isGood = !b.leaks && b.recovers >= GRADE_LINES.return && seer(b) !== null;
    t.good += Number(isGood);
    const route = decide(b);
    const rest = b.evidence[0];
    if (route !== null && rest?.of === 'rest-volts' && rest.voltageV < 0) t.forbidden += 1;
    if (route === null) {
      t.scrappedGood += Number(isGood);
      continue;
    }
    const capacity = held(b, route);
    // Tested, and held for a week: what is sent out is what the test and the week say.
    const grade = gradeOf(capacity + noise(), b.leaks ? 1 : 0, GRADE_LINES);
    const cost = costOf(
      { hours: HOURS[route] ?? LONG_H, failed: null },
      ROUTES[route],
      DEFAULT_STAKES,
    );
    const isBad = grade === 'return' && capacity < GRADE_LINES.return - 0.05;
    t.sentOut += Number(grade !== 'none');
    t.sentOutBad += Number(isBad);
    t.money +=
      (isBad
        ? -BACK.share * priceOf(b.c20Ah, DEFAULT_STAKES) - BACK.hours * DEFAULT_STAKES.handsPerHour
        : WORTH[grade] * priceOf(b.c20Ah, DEFAULT_STAKES)) - cost;
  }
  return { ...t, n: batteries.length };
}

function report(name: string, t: Tally & { n: number }): void {
  const pc = (n: number, of: number): string => `${((100 * n) / Math.max(1, of)).toFixed(1)} %`;
  say(
    name,
    `${(t.money / t.n).toFixed(2)} a battery`,
    `scrapped though good ${pc(t.scrappedGood, t.good)}, sent out and fails ${pc(t.sentOutBad, t.sentOut)}, charged though forbidden ${t.forbidden}`,
  );
}
