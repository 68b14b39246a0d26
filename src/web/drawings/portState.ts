import { type Job, runsWith } from '../../core/job/job.ts';
import { standingReadings } from '../../core/job/job.ts';
import { type Cover, type PortAnswer, stepById } from '../../core/plan/procedure.ts';
import { moduleOf } from '../../core/steps/registry.ts';

/** What one port looks like from above. */
export interface PortLook {
  /** Liquid in it, 0–1; null while nobody can see in. */
  level: number | null;
  bubbling?: boolean;
  /** Something is wrong with this port. */
  wrong?: boolean;
  word: string;
}

export type Tone = 'idle' | 'live' | 'wet' | 'rested' | 'stop';

export interface StripLook {
  ports: PortLook[];
  cover: Cover;
  tone: Tone;
  word: string;
}

const COVER_WORDS: Record<Cover, string> = {
  foil: 'foil on',
  'torn-foil': 'foil broken',
  open: 'ports open',
  'strip-loose': 'strip laid on',
  'caps-loose': 'caps laid on',
  caps: 'caps on',
  sealed: 'sealed',
};

/** Liquid in a port that was filled and not looked at since. */
const FILLED = 0.85;

/** What the battery of a settled job looks like from above right now: what its procedure says its finished steps leave behind. */
export function stripLook(job: Job): StripLook {
  const { state, procedure, plan } = job;
  const { cells } = plan.model;
  const cover = coverNow(job);
  const charging = state.charge?.mode === 'running';
  const stop = state.status === 'refused' || state.charge?.mode === 'halted';
  const inHand = state.current ? stepById(procedure, state.current.stepId) : null;
  const rested =
    state.outcome === 'passed' || (inHand !== null && moduleOf(inHand).rested === true);
  const dry =
    procedure.purpose === 'commission' &&
    (procedure.arrives === 'foil' || procedure.arrives === 'caps');
  const filled =
    !dry ||
    state.runs.some((r) => r.end === 'done' && stepById(procedure, r.stepId).segment === 'fill');
  const tone: Tone = stop
    ? 'stop'
    : charging
      ? 'live'
      : rested
        ? 'rested'
        : filled && dry
          ? 'wet'
          : 'idle';

  const answers = lastAnswers(job);
  const levels = standingReadings(state, 'cells').findLast((r) =>
    r.cells?.some((c) => c.level),
  )?.cells;
  const ports = Array.from({ length: cells }, (_, i): PortLook => {
    const answer = answers?.[i];
    const read = levels?.[i]?.level;
    const level = read ? LEVELS[read] : filled ? (answer?.level ?? FILLED) : dry ? 0 : FILLED;
    return {
      level: cover === 'foil' || cover === 'torn-foil' ? null : level,
      bubbling: charging || (answer?.bubbling ?? false),
      wrong: read === 'dry',
      word: answer?.label ?? '',
    };
  });
  return { ports, cover, tone, word: charging ? 'current flows' : COVER_WORDS[cover] };
}

const LEVELS = { dry: 0.05, low: 0.4, mark: FILLED, over: 1 } as const;

function coverNow({ state, procedure }: Job): Cover {
  if (state.refusal) {
    const { stepId, why } = state.refusal;
    const step = stepById(procedure, stepId);
    const shownBy = why.by === 'check' ? why.check : null;
    const shown =
      step.kind === 'checks' ? step.checks.find((c) => c.id === shownBy)?.shows : undefined;
    if (shown) return shown;
  }
  // What is over the ports follows from the latest finished step that says so; a charge in hand has its own.
  const inHand = state.current ? stepById(procedure, state.current.stepId) : null;
  if (inHand?.leaves && state.charge && moduleOf(inHand).stretches) return inHand.leaves;
  const left = state.runs.findLast(
    (r) => (r.end === 'done' || r.end === 'skipped') && stepById(procedure, r.stepId).leaves,
  );
  return (left && stepById(procedure, left.stepId).leaves) ?? procedure.arrives;
}

/** The latest answer given for each port, while the look at it still stands. */
function lastAnswers({ state, procedure }: Job): (PortAnswer | undefined)[] | null {
  const run = runsWith(state, 'ports').findLast((r) => r.end === 'done');
  const step = run && stepById(procedure, run.stepId);
  if (!run || step?.kind !== 'ports') return null;
  return run.result.ports.map((id) => step.answers.find((a) => a.id === id));
}
