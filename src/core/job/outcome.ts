/** How a job ends, how it stands, what judged it. */

export type Outcome = 'passed' | 'light' | 'claim' | 'recover' | 'recycle' | 'refused';

/** As the sheet and every list say it. */
export const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  passed: 'Passed',
  light: 'Light duty only',
  claim: 'Set aside as a claim',
  recover: 'Sent to recovery',
  recycle: 'To the recycler',
  refused: 'Refused',
};

export type JobStatus = 'running' | 'with-lead' | 'refused' | 'closed';

export interface Verdict {
  outcome: 'pass' | 'repeat' | 'lead' | 'incomplete';
  reasons: string[];
  restV: number | null;
  socPercent: number | null;
  /** Its band, 8 of 10, and what it was read off: the acid it was filled with, or the usual table. Absent in verdicts older than these. */
  socBand?: { low: number; high: number };
  socBy?: 'acid' | 'table';
  loadV: number | null;
  /** By an analyser, in the standard of the model. */
  ccaA?: number | null;
}

export type LeadDecision = 'go-on' | 'charge-again' | 'claim' | 'recover' | 'recycle';
