import { useMemo } from 'react';
import type { HouseRules } from '../../../../core/house/rules.ts';
import { type Job, recoveryOf } from '../../../../core/job/job.ts';
import { type ChargingTrace } from '../../../../core/recovery/evidence.ts';
import type { Band } from '../../../../core/rehearsal/outlook.ts';
import { useCharge } from '../../../line/queries.ts';
import { DiagnosisBoard, useJobDiagnosis } from '../diagnosis/DiagnosisBoard.tsx';

interface Props {
  job: Job;
  rules: HouseRules;
}

/** The diagnosis as the charge moves it: what is read by hand, or seen by the instrument, is weighed with the rest. */
export function ChargeSays(props: Props) {
  const live = props.job.state.charge?.live;
  return live ? <LiveSays chargeId={live.chargeId} {...props} /> : <Says trace={null} {...props} />;
}

function LiveSays({ chargeId, ...props }: Props & { chargeId: string }) {
  const samples = useCharge(chargeId).data?.samples;
  const trace = useMemo(
    () =>
      samples ? { hours: samples.hours, volts: samples.voltageV, amps: samples.currentA } : null,
    [samples],
  );
  return <Says trace={trace} {...props} />;
}

const band = ({ low, middle, high }: Band, digits: number, unit: string): string =>
  `${middle.toFixed(digits)} ${unit} (${low.toFixed(digits)}–${high.toFixed(digits)})`;

function Says({ job, rules, trace }: Props & { trace: ChargingTrace | null }) {
  const state = useJobDiagnosis(job, rules, trace);
  const route = recoveryOf(job).routes.at(-1)?.route;
  const odds = state.diagnosis?.routes.find((r) => r.route === route);
  return (
    <section
      aria-label="What the charge says"
      className="rounded-lg border border-line bg-sheet p-5"
    >
      <h2 className="mb-2 text-2xl">What the charge says of it</h2>
      {odds && (
        <dl className="mb-4 flex flex-wrap gap-x-10 gap-y-2" aria-label="Forecast of this charge">
          {[
            ['Done after, in all', band(odds.hours, 0, 'h')],
            ['Settles a day later at', band(odds.restV, 2, 'V')],
            [
              'Holds in its test, of its rating',
              band(
                {
                  low: 100 * odds.capacity.low,
                  middle: 100 * odds.capacity.middle,
                  high: 100 * odds.capacity.high,
                },
                0,
                '%',
              ),
            ],
          ].map(([label, value]) => (
            <div key={label} className="leading-tight">
              <dt className="label">{label}</dt>
              <dd className="font-label text-xl font-semibold">{value}</dd>
            </div>
          ))}
        </dl>
      )}
      <DiagnosisBoard state={state} c20Ah={job.plan.model.c20Ah} />
    </section>
  );
}
