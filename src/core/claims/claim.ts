import type { Job } from '../job/job.ts';
import type { Moment } from '../quantities/moment.ts';
import { refusalWords } from '../job/refusalWords.ts';
import { stepById } from '../plan/procedure.ts';

/** What may be wrong with a new battery, so that whoever sold it is asked to make it good. */
export const CLAIM_CAUSES = {
  foil: 'Foil over the ports broken',
  pack: 'Electrolyte pack damaged or missing',
  'wrong-acid': 'Wrong electrolyte supplied',
  damaged: 'Battery damaged',
  'failed-twice': 'Failed its tests twice',
  other: 'Something else',
} as const;
export type ClaimCause = keyof typeof CLAIM_CAUSES;
export const CLAIM_CAUSE_KEYS = Object.keys(CLAIM_CAUSES) as ClaimCause[];

export const CLAIM_ASKS = {
  replacement: 'A replacement',
  credit: 'The money back',
} as const;
export type ClaimAsk = keyof typeof CLAIM_ASKS;

export const CLAIM_STATUSES = ['open', 'sent', 'settled', 'refused'] as const;
export type ClaimStatus = (typeof CLAIM_STATUSES)[number];
export const CLAIM_STATUS_WORDS: Readonly<Record<ClaimStatus, string>> = {
  open: 'Open',
  sent: 'Sent',
  settled: 'Settled',
  refused: 'Refused',
};

/** Where a claim may go from where it is. One that was refused may be sent again; one that was sent by mistake is opened again. */
export const NEXT_STATUS: Readonly<Record<ClaimStatus, readonly ClaimStatus[]>> = {
  open: ['sent'],
  sent: ['settled', 'refused', 'open'],
  settled: ['sent'],
  refused: ['sent'],
};

/** May a claim become this without a word? Sent, it speaks for itself; anything else is an answer or a reason. */
export const moveNeedsWords = (to: ClaimStatus): boolean => to !== 'sent';

/** Why a claim does not become this, and at which field; null where it may. */
export function moveFault(
  from: ClaimStatus,
  to: ClaimStatus,
  words: string,
): { field: 'text' | null; message: string } | null {
  if (!NEXT_STATUS[from].includes(to))
    return {
      field: null,
      message: `A claim that is ${CLAIM_STATUS_WORDS[from].toLowerCase()} does not become ${CLAIM_STATUS_WORDS[to].toLowerCase()}.`,
    };
  if (words === '' && moveNeedsWords(to))
    return { field: 'text', message: to === 'open' ? 'Say why.' : 'Say what was answered.' };
  return null;
}

/** What a claim says, apart from the battery's own record. */
export interface ClaimFacts {
  cause: ClaimCause;
  /** What was seen, in a sentence. */
  what: string;
  /** Who sold it, when (YYYY-MM-DD), on which invoice; empty where nobody knows. */
  supplier: string;
  boughtOn: string;
  invoice: string;
  asks: ClaimAsk;
  /** The last day to send it, YYYY-MM-DD; empty where there is none. */
  sendBy: string;
}

/** One thing that happened to a claim. `status` is where it stood afterwards. */
export interface ClaimMove {
  at: Moment;
  by: string;
  status: ClaimStatus;
  text: string;
}

/** Who decided that a battery is not commissioned, when and why; null while nobody has. */
export interface ClaimDecision {
  at: Moment;
  by: string;
  why: string;
}

/** The decision a claim rests on: a lead's, else the refusal. */
export function claimDecision(job: Job): ClaimDecision | null {
  const { refusal, leadDecisions } = job.state;
  const lead = leadDecisions.findLast((d) => d.decision === 'claim');
  if (lead) return { at: lead.at, by: lead.by, why: lead.reason };
  return refusal ? { at: refusal.at, by: refusal.by, why: refusalWords(job, refusal) } : null;
}

/** Is a claim to be expected of this job: a new battery that was refused, or set aside as a claim? */
export function claimable({ procedure, state }: Job): boolean {
  return (
    procedure.purpose === 'commission' &&
    (state.outcome === 'claim' || state.outcome === 'refused' || state.refusal !== null)
  );
}

/** What a claim of this job is about, as far as the job tells: its cause and what was seen. */
export function claimFrom(job: Job): Pick<ClaimFacts, 'cause' | 'what'> {
  const { refusal, attempt, refusedPacks } = job.state;
  const decided = claimDecision(job);
  if (refusal) {
    const check = refusal.why.by === 'check' ? refusal.why.check : '';
    // The refusal speaks to the technician; the claim tells whoever sold it what was seen.
    if (check === 'foil')
      return {
        cause: 'foil',
        what: 'The foil over a port was broken when the battery came out of its box. It was not filled.',
      };
    const { title } = stepById(job.procedure, refusal.stepId);
    return { cause: 'damaged', what: refusalWords(job, refusal) || title };
  }
  const refused = refusedPacks.at(-1);
  if (attempt === 1 && refused)
    return {
      cause: 'wrong-acid',
      what: `The pack says ${refused.code}; the battery takes ${job.plan.model.electrolyteCode ?? 'another'}.`,
    };
  if (attempt > 1)
    return {
      cause: 'failed-twice',
      what: `It failed its tests ${attempt === 2 ? 'twice' : `${attempt} times`}. ${job.state.verdict?.reasons.join(' ') ?? ''}`.trim(),
    };
  return { cause: 'other', what: decided?.why ?? '' };
}
