import { useMemo } from 'react';
import type { Evidence } from '../../../core/diagnosis/evidence.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Job } from '../../../core/procedures/job.ts';
import { subjectOf, traceEvidence } from '../../../core/procedures/recovery.ts';
import { useCharge } from '../../app/queries.ts';
import { DiagnosisBoard, useJobDiagnosis } from './DiagnosisBoard.tsx';

interface Props {
  job: Job;
  rules: HouseRules;
}

/** The diagnosis as the first charge moves it: what is read by hand, or seen by the instrument, is weighed with the rest. */
export function ChargeSays(props: Props) {
  const live = props.job.state.charge?.live;
  return live ? <LiveSays chargeId={live.chargeId} {...props} /> : <Says trace={null} {...props} />;
}

function LiveSays({ chargeId, ...props }: Props & { chargeId: string }) {
  const samples = useCharge(chargeId).data?.samples;
  const trace = useMemo(() => (samples ? traceEvidence(samples.hours, samples.voltageV, samples.currentA) : null), [samples]);
  return <Says trace={trace} {...props} />;
}

function Says({ job, rules, trace }: Props & { trace: Evidence | null }) {
  const state = useJobDiagnosis(job, rules, trace);
  return (
    <section aria-label="What the charge says" className="rounded-lg border border-line bg-sheet p-5">
      <h2 className="mb-2 text-2xl">What the charge says of it</h2>
      <DiagnosisBoard state={state} c20Ah={job.plan.model.c20Ah} story={subjectOf(job).story} aside={null} />
    </section>
  );
}
