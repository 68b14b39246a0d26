import { FAMILIES, type FamilyKey } from '../diagnosis/practice/families.ts';
import type { Job } from '../job/job.ts';
import { recoveryOf } from '../job/job.ts';
import { cyclesOf } from '../recovery/cycles.ts';
import { evidenceOf } from '../recovery/evidence.ts';
import { familiesAtOnce } from '../recovery/question.ts';

/** What its owner does so that it does not come back. */
const ADVICE: Readonly<Record<FamilyKey, string>> = {
  never: 'It is not charged again, here or anywhere.',
  'bad-cell': 'A new battery is needed; the charger that was on it is worth a look.',
  worn: 'Plan for a new one before the next winter.',
  dry: 'Have its charging voltage checked: something boils its water away.',
  sulfated: 'Keep it above 12.4 V from now on: left low, it sulfates again.',
  layered: 'Charge it fully once a month: short runs leave its acid in layers.',
  flat: 'Find what emptied it: another deep discharge costs it years.',
  nothing: 'Look for the fault in the machine: something draws on it, or hardly charges it.',
};

/** What was found, what came of it and what to do now: three plain sentences for whoever owns it; null until it is decided. */
export function ownerWords(job: Job): [string, string, string] | null {
  const last = recoveryOf(job).outcomes.at(-1);
  if (job.procedure.purpose !== 'recover' || !last || last.outcome === 'another') return null;
  const { outcome } = last;
  const evidence = evidenceOf(job);
  const family = last.found ?? familiesAtOnce(job)[0]?.family;
  if (!family) return null;
  const rest = evidence.find((e) => e.of === 'rest-volts');
  const { c20Ah } = job.plan.model;
  const capacity = cyclesOf(job).findLast((c) => c.capacity !== null)?.capacity;
  const found = `It came in ${rest ? `at ${rest.voltageV.toFixed(2)} V ` : ''}and was ${last.found ? '' : 'most likely '}${FAMILIES[family].is}.`;
  const came = capacity
    ? `After the work it holds ${(capacity.health * c20Ah).toFixed(c20Ah < 20 ? 1 : 0)} of its ${c20Ah} Ah.`
    : outcome === 'recycle'
      ? 'It cannot be brought back and goes to the recycler.'
      : 'Its capacity was not tested.';
  return [found, came, ADVICE[family]];
}
