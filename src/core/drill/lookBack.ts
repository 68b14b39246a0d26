import { DiagnosisRun } from '../diagnosis/diagnose.ts';
import { EVIDENCE } from '../diagnosis/evidence.ts';
import type { FamilyOdds } from '../diagnosis/practice/families.ts';
import { DEFAULT_STAKES } from '../diagnosis/stakes.ts';
import { Refused } from '../job/commands.ts';
import { stepById } from '../plan/procedure.ts';
import { fillText } from '../plan/words.ts';
import type { Moment } from '../quantities/moment.ts';
import { diagnosisQuestion, familiesAtOnce } from '../recovery/question.ts';
import type { DrillAct, Happening, Shown } from './acts.ts';
import type { Decision, DrillCase } from './case.ts';
import { DrillBench } from './drillBench.ts';
import type { Fact } from './facts.ts';
import { goodTechnician } from './goodTechnician.ts';
import type { Inside } from './inside.ts';
import { type Marks, markCase } from './marks.ts';
import { seer } from './seer.ts';
import { CannotTake } from './taking.ts';

/** One line of what was done and what came of it. */
export interface LookedBack {
  at: Moment;
  act: DrillAct;
  /** The step that was in hand, by its title; null once the job is over. */
  step: string | null;
  shown: Shown | null;
  happened: readonly Happening[];
  facts: readonly Fact[];
  /** What it could be taken for then, likeliest first; null where the act told nothing new. */
  odds: FamilyOdds[] | null;
  /** What would have told most, at the moment it was decided; null at other acts. */
  wouldHaveTold: { name: string; minutes: number; clears: number } | null;
}

/** How somebody else did the same case. */
export interface Beside {
  decision: Decision | null;
  handsMin: number;
  hours: number;
  /** Looks, readings and commands, in order. */
  lines: LookedBack[];
}

export interface LookBack {
  beganAt: Moment;
  marks: Marks;
  decision: Decision | null;
  handsMin: number;
  hours: number;
  lines: LookedBack[];
  inside: readonly Inside[];
  good: Beside;
  /** Somebody who knew the battery: nobody can be quicker and right. */
  seer: Omit<Beside, 'lines'>;
}

/** Where the family first stood in front that it truly is, and stayed there; null where it never did. */
export function turnedAt(lines: readonly LookedBack[], family: string): Moment | null {
  let since: Moment | null = null;
  for (const { at, odds } of lines) {
    if (!odds) continue;
    if (odds[0]?.family !== family) since = null;
    else since ??= at;
  }
  return since;
}

/** Does the acts again, with what could be known after each of them, beside a good technician. */
export function lookBack(drillCase: DrillCase, acts: readonly DrillAct[]): LookBack {
  const good = goodTechnician(drillCase);
  const yours = replay(drillCase, acts);
  return {
    beganAt: yours.bench.beganAt,
    marks: markCase(yours.bench, good),
    ...summary(yours.bench),
    lines: yours.lines,
    inside: yours.bench.inside,
    good: { ...summary(good), lines: replay(drillCase, good.acts).lines },
    seer: summary(seer(drillCase)),
  };
}

const summary = ({ decision, handsMin, now, beganAt }: DrillBench) => ({
  decision,
  handsMin,
  hours: (now - beganAt) / 3_600_000,
});

function replay(
  drillCase: DrillCase,
  acts: readonly DrillAct[],
): { bench: DrillBench; lines: LookedBack[] } {
  const bench = new DrillBench(drillCase);
  const lines: LookedBack[] = [];
  for (const act of acts) {
    const when = bench.now;
    const { procedure, plan, state } = bench.job;
    const step = state.current
      ? fillText(stepById(procedure, state.current.stepId).title, plan)
      : null;
    const facts = bench.facts.length;
    const would = decides(act) ? wouldHaveTold(bench) : null;
    try {
      const { shown, happened } = bench.do(act);
      lines.push({
        at: when,
        act,
        step,
        shown,
        happened: happened.map((h) => h.what),
        facts: bench.facts.slice(facts).map((f) => f.fact),
        odds: tells(act) && drillCase.purpose === 'recover' ? familiesAtOnce(bench.job) : null,
        wouldHaveTold: would,
      });
    } catch (error) {
      if (!(error instanceof Refused) && !(error instanceof CannotTake)) throw error;
    }
  }
  return { bench, lines };
}

const tells = (act: DrillAct): boolean =>
  act.do === 'command' && ['read', 'tellStory', 'correct'].includes(act.command.type);
const decides = (act: DrillAct): boolean =>
  act.do === 'command' &&
  (act.command.type === 'chooseRoute' ||
    (act.command.type === 'giveOutcome' && act.command.stepId === 'diagnose'));

function wouldHaveTold({ job }: DrillBench): LookedBack['wouldHaveTold'] {
  const [best] = new DiagnosisRun(diagnosisQuestion(job, DEFAULT_STAKES)).atOnce().next;
  if (!best || best.perMinute <= 0) return null;
  return { name: EVIDENCE[best.kind].name, minutes: best.minutes, clears: best.clears };
}
