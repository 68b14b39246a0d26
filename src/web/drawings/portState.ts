import type { Job } from '../../core/procedures/job.ts';
import { stepById } from '../../core/procedures/procedure.ts';

/** What one port looks like from above. */
export interface PortLook {
  /** Liquid in it, 0–1; null while nobody can see in. */
  level: number | null;
  bubbling?: boolean;
  /** Something is wrong with this port. */
  wrong?: boolean;
  word: string;
}

export type Cover = 'foil' | 'torn' | 'open' | 'loose' | 'sealed';
export type Tone = 'idle' | 'live' | 'wet' | 'rested' | 'stop';

export interface StripLook {
  ports: PortLook[];
  cover: Cover;
  tone: Tone;
  word: string;
}

const COVER_WORDS: Record<Cover, string> = { foil: 'foil on', torn: 'foil broken', open: 'ports open', loose: 'strip laid on', sealed: 'sealed' };

/** What the battery of a settled job looks like from above right now. */
export function stripLook(job: Job): StripLook {
  const { state, procedure, plan } = job;
  const order = procedure.steps.map((s) => s.id);
  const last = state.current?.stepId ?? state.refusal?.stepId ?? order.at(-1) ?? '';
  const here = order.indexOf(last);
  const before = (id: string) => here < order.indexOf(id);
  const answers = state.runs.findLast((r) => r.stepId === 'bubbles' && r.result?.['ports'])?.result?.['ports'] as string[] | undefined;

  const closed = state.runs.some((r) => r.stepId === 'close' && r.end === 'done');
  const cover: Cover = state.refusal && last === 'foil' ? 'torn' : closed ? 'sealed' : before('bubbles') ? 'foil' : before('soak') ? 'open' : 'loose';
  const charging = state.charge?.mode === 'running';
  const stop = state.status === 'refused' || state.charge?.mode === 'halted';
  const kind = state.current ? stepById(procedure, state.current.stepId).kind : null;
  const rested = state.outcome === 'passed' || (kind !== null && !before('ocv'));
  const tone: Tone = stop ? 'stop' : charging ? 'live' : rested ? 'rested' : before('bubbles') ? 'idle' : 'wet';

  const level = cover === 'foil' || cover === 'torn' ? null : cover === 'open' ? 0.5 : 0.85;
  const ports = Array.from({ length: plan.model.cells }, (_, i): PortLook => {
    if (cover === 'open') return { level, bubbling: last === 'bubbles' || last === 'dwell', word: answers?.[i] === 'tapped' ? 'after tapping' : 'filling' };
    if (charging) return { level, bubbling: true, word: 'charging' };
    return { level, word: COVER_WORDS[cover] };
  });
  return { ports, cover, tone, word: charging ? 'current flows' : COVER_WORDS[cover] };
}
