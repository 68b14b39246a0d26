import { leadAcidKind } from '../batteries/kinds.ts';
import { chargerOptions } from '../chargers/fit.ts';
import { DiagnosisRun } from '../diagnosis/diagnose.ts';
import type { EvidenceKind } from '../diagnosis/evidence.ts';
import { DEFAULT_STAKES } from '../diagnosis/stakes.ts';
import { FILL_RANGE_C } from '../electrolyte/acidLines.ts';
import { chargeStatus } from '../job/chargeStatus.ts';
import type { ReadingRole } from '../job/reading.ts';
import { checksOf } from '../plan/checks.ts';
import { figureOf } from '../plan/jobPlan.ts';
import type { StepOf } from '../plan/procedure.ts';
import { chargerNeed } from '../recovery/chargerNeed.ts';
import { needsWaking } from '../recovery/evidence.ts';
import { diagnosisQuestion, familiesAtOnce } from '../recovery/question.ts';
import { judgeRecovery } from '../recovery/judging.ts';
import { handSettings, offeredWakes } from '../recovery/recovery.ts';
import type { TakeKind } from './acts.ts';
import type { DrillCase } from './case.ts';
import type { DrillBench } from './drillBench.ts';
import { Hands } from './hands.ts';
import { CannotTake } from './taking.ts';
import { lookFor, portsLook } from './witness.ts';

/**
 * A good technician at a case: looks before an answer, reads what is worth its minutes, waits where it is to be waited, writes
 * what was shown, and goes by what the numbers say. Knows nothing of the battery but what was shown. Its minutes and hours are
 * what others are held against.
 */
export function goodTechnician(drillCase: DrillCase): DrillBench {
  const technician = new GoodTechnician(drillCase);
  technician.work();
  return technician.bench;
}

const HOUR_S = 3600;
const MOST_STEPS = 120;
/** Looks at a charge, and how long it is given at most, h. */
const MOST_CHARGE_H = 90;
/** Minutes for which it reads on before it decides. */
const MOST_READ_MIN = 16;

/** Readings that tell a diagnosis something, and what they are taken with. */
const TAKEN_WITH: Readonly<Partial<Record<EvidenceKind, TakeKind>>> = {
  'rest-volts': 'volts',
  'cell-sg': 'sg',
  'cell-volts': 'cell-volts',
  load: 'load',
  cca: 'analyser',
  resistance: 'analyser',
  mass: 'mass',
};

/** What a technician may do otherwise than a good one: see the tests of each case. */
export class GoodTechnician extends Hands {
  work(): void {
    for (let i = 0; i < MOST_STEPS && !this.bench.isOver; i++) this.step();
  }

  step(): void {
    const step = this.current;
    const stepId = step.id;
    const { plan, state } = this.job;
    switch (step.kind) {
      case 'acknowledge':
        return this.send({ type: 'acknowledge', stepId });
      case 'checks':
        return this.checks(step);
      case 'pack':
        return this.pack(stepId);
      case 'acid':
        return this.acid(stepId);
      case 'do':
        return this.does(step);
      case 'ports':
        return this.ports(step);
      case 'wait':
        return this.waits(step);
      case 'story':
        this.look('customer');
        return this.send({
          type: 'tellStory',
          stepId,
          story: {
            ...this.bench.drillCase.story.told,
            wetMassG: this.bench.drillCase.wetMassG ?? null,
          },
        });
      case 'arrival':
        return this.reads('arrival', ['volts', 'temperature']);
      case 'diagnose':
        return this.diagnoses(stepId);
      case 'wake': {
        const chargerA = 0.05 * plan.model.c20Ah;
        return this.send({
          type: 'wake',
          stepId,
          chargerA,
          ...(state.recovery?.routes.at(-1)?.wake === 'parallel'
            ? { donorV: plan.model.cells * 2.1, donorAh: 60, leadM: 1, leadMm2: 25 }
            : {}),
        });
      }
      case 'wake-check': {
        const volts = this.take('volts').values.voltageV ?? 0;
        const { feel = [] } = this.take('feel');
        return this.send({ type: 'checkWake', stepId, voltageV: volts, feel });
      }
      case 'charge':
        return this.charges(step);
      case 'cells': {
        const { values, cells } = this.take('sg');
        return this.send({ type: 'read', role: 'cells', values, cells: cells ?? [], sure: true });
      }
      case 'measure':
        this.reads('rest', ['volts', 'temperature']);
        // Too high to be rested: it stands on.
        if (this.job.state.current?.stepId === stepId) this.wait(HOUR_S);
        return;
      case 'load':
        return this.reads('load', ['load']);
      case 'hold-measure':
        return this.reads('hold', ['volts', 'temperature']);
      case 'verdict':
        return this.send({ type: 'giveVerdict', stepId });
      case 'capacity':
        return this.tests(stepId);
      case 'rinse':
        throw new Error('A good technician here adds nothing.');
      case 'outcome': {
        const { suggested } = judgeRecovery(this.job);
        const outcome =
          suggested === 'another' && state.attempt >= MOST_ROUNDS ? 'recycle' : suggested;
        return this.send({
          type: 'giveOutcome',
          stepId,
          outcome,
          ...(outcome === suggested ? {} : { reason: 'The last cycle gained too little' }),
          ...(outcome === 'another' ? {} : { found: this.family() }),
        });
      }
      case 'handover':
        return this.send({ type: 'handOver', stepId, destination: 'customer' });
    }
  }

  /** What it is taken for by what was read. */
  family() {
    return familiesAtOnce(this.job)[0]?.family;
  }

  checks(step: StepOf<'checks'>): void {
    const answers: Record<string, boolean> = {};
    for (const check of checksOf(step, this.job.plan)) {
      const what = lookFor(check.id);
      answers[check.id] = what ? this.look(what).good : true;
      if (answers[check.id] === false && check.refusal) break;
    }
    this.send({ type: 'answerChecks', stepId: step.id, answers });
  }

  pack(stepId: string): void {
    this.look('packs');
    const wanted = this.job.plan.model.electrolyteCode;
    const right = (this.bench.drillCase.packs ?? []).find((p) => p.code === wanted);
    if (right) this.send({ type: 'matchPack', stepId, code: right.code, lot: right.lot });
    else this.send({ type: 'escalate', reason: `No pack ${wanted ?? ''} on the shelf` });
  }

  acid(stepId: string): void {
    for (let i = 0; i < 30; i++) {
      const { specificGravity = 0, temperatureC = 0 } = this.take('acid').values;
      const batteryC = this.take('temperature').values.temperatureC ?? 20;
      const [lowC, highC] = FILL_RANGE_C;
      if (![temperatureC, batteryC].every((c) => c >= lowC && c <= highC)) {
        this.wait(HOUR_S);
        continue;
      }
      const lot = this.bench.drillCase.acid?.lot ?? '';
      try {
        return this.send({
          type: 'matchAcid',
          stepId,
          lot,
          specificGravity,
          temperatureC,
          batteryC,
        });
      } catch {
        return this.send({ type: 'escalate', reason: 'The acid is not the one it needs' });
      }
    }
  }

  does(step: StepOf<'do'>): void {
    const { plan } = this.job;
    const told: { temperatureC?: number; amountMl?: number } = {};
    if (step.temperature) {
      const [low, high] = step.temperature.range;
      for (let i = 0; i < 30; i++) {
        told.temperatureC = this.take('temperature').values.temperatureC ?? 20;
        if (told.temperatureC >= low && told.temperatureC <= high) break;
        this.wait(HOUR_S);
      }
    }
    if (step.amount) told.amountMl = Math.round(figureOf(plan, step.amount.expected).value);
    this.send({ type: 'confirmDone', stepId: step.id, ...told });
  }

  ports(step: StepOf<'ports'>): void {
    const { cells } = this.job.plan.model;
    const answer = (k: number): string => (this.#tapped.has(k) ? 'tapped' : '');
    if (step.leaves === 'strip-loose' && !this.look('strip').good)
      return this.send({
        type: 'escalate',
        reason: 'Its cap strip is pressed down before the charge',
      });
    const what = portsLook(step);
    this.look(what);
    if (what === 'tubes') {
      for (const tube of this.bench.world.stillTubes) {
        this.tap(tube);
        this.#tapped.add(tube);
      }
    }
    const ids = step.answers.map((a) => a.id);
    this.send({
      type: 'answerPorts',
      stepId: step.id,
      ports: Array.from({ length: cells }, (_, k) =>
        ids.includes(answer(k)) ? answer(k) : (ids[0] ?? ''),
      ),
    });
  }

  readonly #tapped = new Set<number>();

  waits(step: StepOf<'wait'>): void {
    const { now } = this.bench;
    const dueAt = this.job.state.current?.dueAt ?? now;
    const every = step.readEveryS ?? Infinity;
    this.wait(Math.min(every, (dueAt - now) / 1000));
    if (
      Number.isFinite(every) &&
      this.job.state.current?.stepId === step.id &&
      this.bench.now < dueAt
    )
      this.reads('spot', ['volts']);
  }

  reads(role: ReadingRole, takes: readonly TakeKind[]): void {
    const values = Object.assign({}, ...takes.map((t) => this.take(t).values)) as object;
    this.send({ type: 'read', role, values, sure: true });
  }

  /** Reads what clears most a minute, then goes by what is proposed. */
  diagnoses(stepId: string): void {
    const read = new Set<TakeKind>(['volts']);
    const question = () => diagnosisQuestion(this.job, DEFAULT_STAKES);
    let minutes = 0;
    const open = leadAcidKind(this.job.plan.model.kind).ports === 'serviceable';
    if (open) this.look('levels');
    this.coverPlates();
    for (;;) {
      const { next } = new DiagnosisRun(question()).atOnce();
      const best = next.find(({ kind, perMinute }) => {
        const take = TAKEN_WITH[kind];
        return take !== undefined && !read.has(take) && perMinute > 0;
      });
      const take = best && TAKEN_WITH[best.kind];
      if (!take || minutes >= MOST_READ_MIN) break;
      read.add(take);
      minutes += best.minutes;
      this.diagnosticReading(take);
    }
    const { proposal, never, families } = new DiagnosisRun(question()).byReadings();
    if (never || proposal.route === null) {
      const { suggested } = judgeRecovery(this.job);
      this.send({
        type: 'giveOutcome',
        stepId,
        outcome: 'recycle',
        found: families[0]?.family ?? null,
        ...(suggested === 'recycle' ? {} : { reason: 'It would not pay, by what it reads' }),
      });
      return;
    }
    const waking = this.job.state.attempt === 1 && needsWaking(this.job);
    const [wake = 'none'] = offeredWakes(this.job.plan.model.kind, this.job.plan.schools);
    this.send({
      type: 'chooseRoute',
      stepId,
      route: proposal.route,
      wake: waking ? wake : 'none',
      forecast: null,
    });
  }

  /** Bare plates are covered before anything is connected. */
  coverPlates(): void {
    const bare = this.bench.drillCase.finds.levels?.good === false;
    if (!bare || this.job.state.topUps.length > 0) return;
    this.send({
      type: 'topUp',
      liquid: 'water',
      cells: Array.from({ length: this.job.plan.model.cells }, (_, k) => k + 1),
    });
  }

  diagnosticReading(take: TakeKind): void {
    try {
      const { values, cells } = this.take(take);
      const role: ReadingRole =
        take === 'sg' || take === 'cell-volts' ? 'cells' : take === 'load' ? 'load' : 'spot';
      this.send({ type: 'read', role, values, ...(cells ? { cells } : {}), sure: true });
    } catch (error) {
      if (!(error instanceof CannotTake)) throw error;
    }
  }

  charges(step: StepOf<'charge'>): void {
    const { job } = this;
    if (!job.state.charge || job.state.charge.mode === 'ended') this.startCharge(step.id);
    for (let h = 0; h < MOST_CHARGE_H && !this.bench.isOver;) {
      const before = this.bench.now;
      this.wait(this.lookS(), true);
      h += (this.bench.now - before) / 1000 / HOUR_S;
      this.readCharge();
      const { charge } = this.job.state;
      if (charge?.mode === 'halted') return this.send({ type: 'escalate', reason: 'Stopped hot' });
      if (charge?.mode === 'paused') {
        this.coolDown(step.id);
        continue;
      }
      if (chargeStatus(this.job, this.bench.now).progress.agrees) break;
    }
    const { progress } = chargeStatus(this.job, this.bench.now);
    this.send({
      type: 'endCharge',
      stepId: step.id,
      sure: true,
      ...(progress.agrees ? {} : { reason: 'It takes no more in the time there is' }),
    });
  }

  /** Until the next look is due, and not longer than two hours. */
  lookS(): number {
    const { nextReadingAt } = chargeStatus(this.job, this.bench.now);
    const { now } = this.bench;
    return Math.min(
      2 * HOUR_S,
      Math.max(600, ((nextReadingAt ?? now + HOUR_S * 1000) - now) / 1000),
    );
  }

  startCharge(stepId: string): void {
    const { setA, setV } = handSettings(this.job);
    const [best] = chargerOptions(this.bench.drillCase.chargers, chargerNeed(this.job));
    this.send({
      type: 'startCharge',
      stepId,
      place: 1,
      setA: best?.charger.range ? Math.min(setA, best.charger.range.mostA) : setA,
      setV: best?.charger.range ? Math.min(setV, best.charger.range.mostV) : setV,
      ...(best
        ? {
            charger: {
              id: best.charger.id,
              ...(best.setting ? { setting: best.setting.name } : {}),
              ...(best.program ? { program: best.program.name } : {}),
            },
          }
        : {}),
      ...(best && best.faults.length > 0 ? { reason: 'No other is here' } : {}),
    });
  }

  readCharge(): void {
    const { charge } = this.job.state;
    const showing = this.take('charger');
    const volts = this.take('volts').values;
    const temperature = this.take('temperature').values;
    if (showing.showing && charge?.charger && !charge.charger.showsAmps) {
      this.send({ type: 'read', role: 'light', values: {}, showing: showing.showing, sure: true });
      if (this.job.state.charge?.mode !== 'running') return;
    }
    this.send({
      type: 'read',
      role: 'charge',
      values: {
        ...volts,
        ...temperature,
        ...(showing.values.currentA === undefined ? {} : showing.values),
      },
      sure: true,
    });
  }

  coolDown(stepId: string): void {
    for (let i = 0; i < 24; i++) {
      this.wait(HOUR_S / 2);
      const temperatureC = this.take('temperature').values.temperatureC ?? 20;
      try {
        return this.send({ type: 'resumeCharge', stepId, temperatureC });
      } catch {
        continue;
      }
    }
  }

  tests(stepId: string): void {
    const { testA, cutoffV } = this.job.plan.figures;
    const temperatureC = this.take('temperature').values.temperatureC ?? 20;
    const began = this.bench.now;
    const cutV = cutoffV?.value ?? 10.5;
    this.send({
      type: 'startDischarge',
      stepId,
      currentA: testA?.value ?? 1,
      cutoffV: cutV,
      temperatureC,
    });
    this.wait(24 * HOUR_S, true);
    const minutes = (this.bench.now - began) / 60_000;
    const { voltageV = cutV } = this.take('volts').values;
    this.send({
      type: 'endDischarge',
      stepId,
      minutes: Number(minutes.toFixed(1)),
      endV: voltageV,
    });
  }
}

/** Cycles after which it makes no more. */
const MOST_ROUNDS = 3;
