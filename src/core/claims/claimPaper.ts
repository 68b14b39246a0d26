import type { Job } from '../job/job.ts';
import { readingRemark, readingRole, readingText } from '../paper/readingWords.ts';
import type { SheetWords } from '../paper/sheetForm.ts';
import { sizeWords } from '../batteries/model.ts';
import type { BatteryModel } from '../batteries/model.ts';
import { formatDate, formatStamp } from '../quantities/format.ts';
import {
  CLAIM_ASKS,
  CLAIM_CAUSES,
  type ClaimDecision,
  claimDecision,
  type ClaimFacts,
} from './claim.ts';
import { commissionSummary } from '../results/commissionSummary.ts';

/** A claim as whoever sold the battery reads it: words and numbers; the PDF only sets them. */
export interface ClaimPaper {
  title: string;
  asks: string;
  what: string;
  facts: { label: string; value: string }[];
  /** Every reading of the job, in order, corrected ones too. */
  readings: { when: string; what: string; values: string; remark: string; corrected: boolean }[];
  decision: string;
}

export interface Claimed {
  number: number;
  tag: string;
  dateCode: string;
  takenInAt: number;
  model: BatteryModel;
  claim: ClaimFacts;
  /** The job that led to it; null where there was none. */
  job: Job | null;
}

/** Sets out a claim. */
export function claimPaper(claimed: Claimed, words: SheetWords): ClaimPaper {
  const { claim, job, model } = claimed;
  const when = (at: number) => formatStamp(at, words);
  const decided: ClaimDecision | null = job && claimDecision(job);
  const lots = job ? commissionSummary(job).lots : [];
  const orNot = (text: string) => text || 'not known';
  return {
    title: `Claim ${claimed.number}: ${CLAIM_CAUSES[claim.cause]}`,
    asks: `Asked for: ${CLAIM_ASKS[claim.asks].toLowerCase()}`,
    what: claim.what,
    facts: [
      { label: 'Model', value: `${model.code}, ${model.name}` },
      {
        label: 'Rating',
        value: `${model.nominalV} V, ${sizeWords(model)}${model.cca === null ? '' : `, CCA ${model.cca} A (${model.ccaStandard})`}`,
      },
      { label: 'Date code', value: claimed.dateCode },
      { label: 'Our tag', value: claimed.tag },
      { label: 'Bought from', value: orNot(claim.supplier) },
      {
        label: 'Bought on',
        value: claim.boughtOn ? formatDate(claim.boughtOn, words) : 'not known',
      },
      { label: 'Invoice', value: orNot(claim.invoice) },
      { label: 'Taken in', value: when(claimed.takenInAt) },
      {
        label: lots.length > 1 ? 'Electrolyte lots' : 'Electrolyte lot',
        value: lots.length > 0 ? lots.join(', ') : 'not filled',
      },
    ],
    readings: (job?.state.readings ?? []).map((r) => ({
      when: when(r.at),
      what: readingRole(r),
      values: readingText(r, words.temperatureUnit),
      remark: readingRemark(r),
      corrected: r.supersededBy !== null,
    })),
    decision: decided
      ? `Decided by ${words.nameOf(decided.by)} on ${when(decided.at)}: ${decided.why}`
      : 'Not decided in a job.',
  };
}
