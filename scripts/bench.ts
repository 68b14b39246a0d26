// `npm run bench`: figures, never pass or fail. Each stands beside a yardstick run at the same moment.
// `npm run bench -- simulation` (or behaviour, chargers, sizes, batteries, guards, diagnosis, charged (the last part of diagnosis), forecast, rehearsal, telemetry, server, shop, decade) takes one part.
// The longest, attack, decade and lighthouse, run only when they are named; `decade FILE` keeps what it made there for the next time; `lighthouse WORD TIMES` takes the views whose name holds it, so many times.
import { TestBench } from '../test/support/bench.ts';
import { Technician } from '../test/support/browser.ts';
import { benchBatteries } from './bench/batteries.ts';
import { benchBehaviour } from './bench/behaviour.ts';
import { benchAttack } from './bench/attack.ts';
import { benchChargers } from './bench/chargers.ts';
import { benchSizes } from './bench/sizes.ts';
import { benchChargedHidden } from './bench/chargedHidden.ts';
import { benchDiagnosis } from './bench/diagnosis.ts';
import { benchFieldDecisions } from './bench/fieldDecisions.ts';
import { benchFieldMinutes } from './bench/fieldMinutes.ts';
import { benchFieldDiagnosis } from './bench/fieldDiagnosis.ts';
import { benchDayPlan } from './bench/dayplan.ts';
import { benchDrill } from './bench/drill.ts';
import { benchDecade } from './bench/decade.ts';
import { benchGuards } from './bench/guards.ts';
import { benchLighthouse } from './bench/lighthouse.ts';
import { benchForecast } from './bench/forecast.ts';
import { benchRehearsal } from './bench/rehearsal.ts';
import { benchLargeShop } from './bench/largeShop.ts';
import { benchServer } from './bench/server.ts';
import { benchSimulation } from './bench/simulation.ts';
import { benchTelemetry } from './bench/telemetry.ts';
import { buildPages } from './setup.mjs';

const wanted = process.argv.slice(2);
/** What follows these says more of them; it names no other part. */
const alone = ['lighthouse', 'decade', 'batteries', 'guards'].includes(wanted[0] ?? '');
const takes = (part: string): boolean => !alone && (wanted.length === 0 || wanted.includes(part));

if (takes('simulation')) benchSimulation();
if (takes('behaviour')) benchBehaviour();
if (takes('chargers')) benchChargers();
if (takes('sizes')) benchSizes();
if (wanted[0] === 'batteries') benchBatteries(Number(wanted[1] ?? 20_000));
if (wanted[0] === 'guards') benchGuards(Number(wanted[1] ?? 400));
if (wanted.includes('dayplan')) await benchDayPlan();
if (wanted.includes('drill')) benchDrill();
if (takes('diagnosis')) {
  benchFieldDiagnosis();
  benchFieldDecisions();
  benchFieldMinutes();
  benchDiagnosis();
  benchChargedHidden();
}
if (wanted.includes('charged')) benchChargedHidden();
if (takes('forecast')) benchForecast();
if (wanted[0] === 'decade') await benchDecade(wanted[1]);
if (wanted.includes('attack')) await benchAttack();
if (wanted[0] === 'lighthouse') {
  buildPages();
  await benchLighthouse(wanted[1], Number(wanted[2] ?? 1));
}
if (['server', 'rehearsal', 'telemetry', 'shop'].some(takes)) {
  buildPages();
  if (takes('telemetry')) await benchTelemetry();
  if (takes('shop')) await benchLargeShop();
  if (takes('server') || takes('rehearsal')) {
    // As a shop has it: a day plan is made in a thread of its own, and keeps no answer waiting.
    TestBench.plansInThread = true;
    const bench = await TestBench.demo();
    const t = await Technician.sitDown(bench);
    if (takes('server')) await benchServer(bench, t);
    if (takes('rehearsal')) await benchRehearsal(bench, t);
    await t.leave();
    await bench.close();
  }
}
process.exit(0);
