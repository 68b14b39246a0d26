import type { JobCommand } from '../job/commands.ts';
import type { JobEvent } from '../job/events.ts';
import type { CellValues, ReadingValues } from '../job/reading.ts';
import { CLEAR } from '../catalogue/steps.ts';
import { SG_OTHER_ACID } from '../electrolyte/acidLines.ts';
import type { Job } from '../job/job.ts';
import type { Step, StepOf } from '../plan/procedure.ts';
import type { Moment } from '../quantities/moment.ts';
import type { Shown, ShownAt } from './acts.ts';
import type { DrillCase, LookKind } from './case.ts';
import type { Fact } from './facts.ts';
import type { World } from './world.ts';

/** What a witness sees of a case: the case, what was shown so far, and the battery. */
export interface Witnessed {
  readonly drillCase: DrillCase;
  readonly now: Moment;
  readonly shown: readonly ShownAt[];
  readonly world: World;
  readonly job: Pick<Job, 'plan'>;
}

/** Which look answers which question of the procedures. */
const LOOK_FOR: Readonly<Record<string, LookKind>> = {
  label: 'label',
  case: 'case',
  crack: 'case',
  bulge: 'case',
  posts: 'posts',
  post: 'posts',
  frozen: 'frost',
  foil: 'foil',
  transport: 'vent',
  tube: 'vent',
};

/** Questions of the procedure that were answered without a look, or otherwise than it showed. */
export function answersSeen(
  { drillCase, shown }: Witnessed,
  step: Step | null,
  command: JobCommand,
): Fact[] {
  const looked = (what: LookKind) =>
    shown.findLast((s) => s.shown.of === 'look' && s.shown.what === what)?.shown as
      | Extract<Shown, { of: 'look' }>
      | undefined;
  if (command.type === 'matchPack') {
    const seen = looked('packs');
    if (!seen) return [{ kind: 'not-looked', what: 'packs' }];
    return (drillCase.packs ?? []).some((p) => p.code === command.code.trim())
      ? []
      : [{ kind: 'answered-otherwise', what: 'packs' }];
  }
  if (command.type === 'answerPorts' && step?.kind === 'ports') {
    const what = portsLook(step);
    return looked(what) ? [] : [{ kind: 'not-looked', what }];
  }
  if (command.type !== 'answerChecks') return [];
  const asked = new Map<LookKind, boolean>();
  for (const [check, answer] of Object.entries(command.answers)) {
    const what = LOOK_FOR[check];
    if (what) asked.set(what, (asked.get(what) ?? true) && answer);
  }
  return [...asked].flatMap(([what, answer]): Fact[] => {
    const seen = looked(what);
    if (!seen) return [{ kind: 'not-looked', what }];
    return seen.good === answer ? [] : [{ kind: 'answered-otherwise', what }];
  });
}

/** A reading is entered within so long of when it was taken, ms. */
const SOON_MS = 40 * 60_000;
/** What a number may be rounded by. */
const SLACK: Readonly<Partial<Record<keyof ReadingValues, number>>> = {
  voltageV: 0.02,
  beforeV: 0.02,
  afterV: 0.02,
  currentA: 0.06,
  temperatureC: 1,
  specificGravity: 0.003,
  ccaA: 3,
  resistanceMilliohm: 0.15,
  massG: 6,
};
const NAMES: Readonly<Partial<Record<keyof ReadingValues, string>>> = {
  voltageV: 'Voltage',
  beforeV: 'Voltage before the load',
  afterV: 'Voltage after the load',
  currentA: 'Current',
  temperatureC: 'Temperature',
  specificGravity: 'SG',
  ccaA: 'CCA',
  resistanceMilliohm: 'Resistance',
  massG: 'Mass',
};

/** Values entered that no instrument had shown, or otherwise. */
export function readingsSeen(witnessed: Witnessed, command: JobCommand): Fact[] {
  const recent = witnessed.shown.flatMap(({ at, shown }) =>
    shown.of === 'reading' && witnessed.now - at <= SOON_MS ? [shown] : [],
  );
  if (command.type === 'matchAcid')
    return compare(
      { specificGravity: command.specificGravity, temperatureC: command.temperatureC },
      recent.filter((r) => r.take === 'acid'),
    );
  if (command.type === 'checkWake')
    return [
      ...compare({ voltageV: command.voltageV }, recent),
      ...(recent.some((r) => r.feel)
        ? []
        : [{ kind: 'not-measured', value: 'Temperature of the cells, by hand' } as const]),
    ];
  if (command.type === 'endDischarge') return compare({ voltageV: command.endV }, recent);
  if (command.type !== 'read' && command.type !== 'correct') return [];
  const facts = compare(command.values, recent);
  return command.cells ? [...facts, ...compareCells(command.cells, recent)] : facts;
}

type Taken = Extract<Shown, { of: 'reading' }>;

function compare(values: ReadingValues, recent: readonly Taken[]): Fact[] {
  return (Object.entries(values) as [keyof ReadingValues, number | undefined][]).flatMap(
    ([key, written]): Fact[] => {
      const value = NAMES[key];
      const slack = SLACK[key];
      if (written === undefined || value === undefined || slack === undefined) return [];
      const seen = recent.flatMap((r) => r.values[key] ?? []);
      if (seen.length === 0) return [{ kind: 'not-measured', value }];
      const nearest = seen.reduce((a, b) =>
        Math.abs(b - written) < Math.abs(a - written) ? b : a,
      );
      return Math.abs(nearest - written) <= slack + 1e-9
        ? []
        : [{ kind: 'written-otherwise', value, shown: nearest, written }];
    },
  );
}

function compareCells(cells: readonly CellValues[], recent: readonly Taken[]): Fact[] {
  const facts: Fact[] = [];
  for (const [key, value, slack] of [
    ['specificGravity', 'SG', 0.003],
    ['voltageV', 'Cell voltage', 0.02],
  ] as const) {
    const written = cells.map((c) => c[key]);
    if (written.every((v) => v === undefined)) continue;
    const seen = recent.findLast((r) => r.cells?.some((c) => c[key] !== undefined))?.cells;
    if (!seen) {
      facts.push({ kind: 'not-measured', value });
      continue;
    }
    written.forEach((v, k) => {
      const shown = seen[k]?.[key];
      if (v !== undefined && shown !== undefined && Math.abs(v - shown) > slack + 1e-9)
        facts.push({
          kind: 'written-otherwise',
          value: `${value}, cell ${k + 1}`,
          shown,
          written: v,
        });
    });
  }
  return facts;
}

/** What an event means for people, whatever the page let through. */
export function unsafe(
  { drillCase, world, job }: Witnessed,
  step: Step | null,
  event: JobEvent,
): Fact[] {
  const { truth } = drillCase;
  const begins =
    event.type === 'charge.started' ||
    event.type === 'charge.resumed' ||
    (event.type === 'step.done' && event.result?.kind === 'wake');
  const facts: Fact[] = [];
  if (begins && truth.never) facts.push({ kind: 'charged-never' });
  if (event.type === 'charge.started' || event.type === 'charge.moved') {
    const charger = drillCase.chargers.find((c) => c.id === event.charger?.id);
    const setting = charger?.settings.find((s) => s.name === event.charger?.setting);
    if (setting?.boost) facts.push({ kind: 'boost' });
    if (drillCase.finds.strip?.good === false) facts.push({ kind: 'strip-pressed' });
  }
  if (event.type === 'step.done' && step?.kind === 'do' && step.segment === 'fill') {
    if (drillCase.finds.foil?.good === false) facts.push({ kind: 'filled-wrong', what: 'foil' });
    const { packs, model, acid } = drillCase;
    if (packs && !packs.some((p) => p.code === model.electrolyteCode))
      facts.push({ kind: 'filled-wrong', what: 'pack' });
    if (acid && Math.abs(acid.sg25 - job.plan.figures.fillSg.value) > SG_OTHER_ACID)
      facts.push({ kind: 'filled-wrong', what: 'acid' });
  }
  if (event.type === 'wait.cut' && letsGasClear(step) && event.remainingS > 60)
    facts.push({
      kind: 'spark',
      byLoad: false,
      afterMin: job.plan.figures.clearS.value / 60 - event.remainingS / 60,
    });
  if (event.type === 'job.closed' && event.outcome === 'passed') {
    const right = drillCase.right.includes('passed') || drillCase.defensible?.includes('passed');
    // A cell that never had its acid leaves the shop with the others.
    if (!right || world.stillTubes.size > 0)
      facts.push({ kind: 'sent-out', strands: drillCase.strands ?? false });
  }
  if (
    event.type === 'job.closed' &&
    world.sealed &&
    world.harm.sealedLostG > LOST_G_PER_AH * drillCase.model.c20Ah
  )
    facts.push({ kind: 'lost-water', grams: world.harm.sealedLostG });
  return facts;
}

/** A sealed battery that lost so much more than a usual charge costs it, g per Ah of C20. */
const LOST_G_PER_AH = 0.4;

/** Which look answers for the ports of a step: where nothing is topped up at them, tubes of a pack stand on them. */
export const portsLook = ({ answers }: StepOf<'ports'>): LookKind =>
  answers.some((a) => a.added !== undefined) ? 'levels' : 'tubes';

/** Does gas clear during it? */
const letsGasClear = (step: Step | null): boolean =>
  step?.kind === 'wait' && step.figure === CLEAR.figure;

/** The look that answers a question of a procedure; undefined where none does. */
export const lookFor = (checkId: string): LookKind | undefined => LOOK_FOR[checkId];
