import { useMemo } from 'react';
import type { HouseRules } from '../../../../core/house/rules.ts';
import { type Job, standingReadings } from '../../../../core/job/job.ts';
import { type ChargeCheck, checkOfJob } from '../../../../core/recovery/chargeCheck.ts';
import { type ChargingTrace, diagnosisQuestion } from '../../../../core/recovery/question.ts';
import { routeUnderWay } from '../../../../core/recovery/forecasts.ts';
import type { Band } from '../../../../core/rehearsal/outlook.ts';
import { useCharge, useSay } from '../../../line/queries.ts';
import { DiagnosisBoard } from '../diagnosis/DiagnosisBoard.tsx';
import { useDiagnosis, useLearnt } from '../diagnosis/useDiagnosis.ts';

interface Props {
  job: Job;
  rules: HouseRules;
}

/** What an instrument has seen of a charge, and how warm it was last, °C. */
interface Seen {
  trace: ChargingTrace;
  temperatureC: number | null;
}

/** The diagnosis as the charge moves it: what is read by hand, or seen by the instrument, is weighed with the rest. */
export function ChargeSays(props: Props) {
  const live = props.job.state.charge?.live;
  return live ? <LiveSays chargeId={live.chargeId} {...props} /> : <Says seen={null} {...props} />;
}

function LiveSays({ chargeId, ...props }: Props & { chargeId: string }) {
  const samples = useCharge(chargeId).data?.samples;
  const seen = useMemo(
    () =>
      samples
        ? {
            trace: { hours: samples.hours, volts: samples.voltageV, amps: samples.currentA },
            temperatureC: samples.temperatureC.at(-1) ?? null,
          }
        : null,
    [samples],
  );
  return <Says seen={seen} {...props} />;
}

const band = ({ low, middle, high }: Band, digits: number, unit: string): string =>
  `${middle.toFixed(digits)} ${unit} (${low.toFixed(digits)}–${high.toFixed(digits)})`;

function Says({ job, rules, seen }: Props & { seen: Seen | null }) {
  const route = routeUnderWay(job);
  const trace = seen?.trace ?? null;
  const learnt = useLearnt();
  const question = useMemo(
    () =>
      diagnosisQuestion(job, rules.stakes, {
        seen: trace,
        underWay: route,
        experience: learnt.experience,
      }),
    [job, rules, trace, route, learnt.experience],
  );
  const state = useDiagnosis(learnt.known ? question : null);
  const { diagnosis } = state;
  const odds = diagnosis?.routes.find((r) => r.route === route);
  const readC = standingReadings(job.state, 'charge').findLast(
    (r) => r.attempt === job.state.attempt && r.values.temperatureC !== undefined,
  )?.values.temperatureC;
  const check =
    diagnosis &&
    !diagnosis.never &&
    checkOfJob(job, question, diagnosis, seen?.temperatureC ?? readC ?? null);
  return (
    <section
      aria-label="What the charge says"
      className="rounded-lg border border-line bg-sheet p-5"
    >
      <h2 className="mb-2 text-2xl">What the charge says of it</h2>
      {check && <Check check={check} />}
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
      <DiagnosisBoard state={state} c20Ah={job.plan.model.c20Ah} underWay={route} />
    </section>
  );
}

const CHECKED: Readonly<Record<ChargeCheck['state'], { mark: string; tone: string }>> = {
  'as-expected': { mark: '✓ As expected. ', tone: 'border-moss bg-moss-pale' },
  'look-closer': { mark: '◆ Look closer. ', tone: 'border-ochre bg-ochre-pale' },
  'not-working': { mark: '✕ Not working. ', tone: 'border-oxide bg-oxide-pale' },
};

/** How the charge goes, beside what batteries of its family do, and what to do now. */
function Check({ check: { state, says, now } }: { check: ChargeCheck }) {
  const say = useSay();
  const { mark, tone } = CHECKED[state];
  return (
    <div role="status" className={`mb-4 rounded-md border-l-8 px-4 py-2 text-lg ${tone}`}>
      <p>
        <b>{mark}</b>
        {say(says)}
      </p>
      {now && <p className="font-semibold">{say(now)}</p>}
    </div>
  );
}
