import type { HouseRules } from '../../../core/house/rules.ts';
import type { Job } from '../../../core/procedures/job.ts';
import { subjectOf } from '../../../core/procedures/recovery.ts';
import { DiagnosisBoard, useJobDiagnosis } from './DiagnosisBoard.tsx';

/** The diagnosis as the first charge moves it: every reading of the charge is weighed with the rest. */
export function ChargeSays({ job, rules }: { job: Job; rules: HouseRules }) {
  const state = useJobDiagnosis(job, rules);
  return (
    <section aria-label="What the charge says" className="rounded-lg border border-line bg-sheet p-5">
      <h2 className="mb-2 text-2xl">What the charge says of it</h2>
      <DiagnosisBoard state={state} c20Ah={job.plan.model.c20Ah} story={subjectOf(job).story} aside={null} />
    </section>
  );
}
