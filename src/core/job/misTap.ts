import type { Job } from './job.ts';

/** A slip of the finger can be put right for so long, ms; after that a refusal stands. */
const MIS_TAP_MS = 10 * 60_000;

/** May this person still take the refusal back? */
export function mayTakeBack(
  { state }: Job,
  now: number,
  by: { id: string; role: string },
): boolean {
  const { refusal } = state;
  return (
    state.status === 'refused' &&
    refusal !== null &&
    now - refusal.at <= MIS_TAP_MS &&
    (refusal.by === by.id || by.role === 'lead')
  );
}
