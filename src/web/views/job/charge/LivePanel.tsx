import { WhenSeen } from '../../../parts/WhenSeen.tsx';
import { lazy } from 'react';
import { notice } from '../../../line/notices.ts';
import type { ChargeWire } from '../../../../contract/chargeWire.ts';
import { stageWords } from '../../../../core/charging/planSentences.ts';
import {
  type LiveStart,
  chargeOffSince,
  type ChargeState,
} from '../../../../core/job/chargeState.ts';
import {
  formatDuration,
  formatMoment,
  formatMomentBothWays,
  formatTemperature,
  type WallStyle,
} from '../../../../core/quantities/format.ts';
import { ventilationNeed } from '../../../../core/safety/ventilation.ts';
import { ask } from '../../../line/api.ts';
import { chargingBatteries } from '../../../line/bench.ts';
import { newId } from '../../../line/newId.ts';
import { queryClient, useBench, useCharge, useLiveSample } from '../../../line/queries.ts';
import { useSigning } from '../../../line/signing.tsx';
import { NotFetched } from '../../../line/States.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { PauseCharge } from './PauseCharge.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import type { ChargeProps } from './props.ts';
import { ResumeForm } from './ResumeForm.tsx';
import { whyWords } from '../../../../core/job/why.ts';
import type { HouseRules } from '../../../../core/house/rules.ts';
import { tripTitle, tripText } from '../../../../core/charging/tripWords.ts';
import { EndEarly } from './EndEarly.tsx';
import { ThumbBar } from '../../../parts/ThumbBar.tsx';
import { stageOf } from '../../../../core/charging/runPlan.ts';
import { PulseScope } from './PulseScope.tsx';
import type { FittedStage } from '../../../../core/charging/fitPlan.ts';

const LiveChart = lazy(() => import('../../../drawings/LiveChart.tsx'));

/** A charge on an instrument: what it does, against what was expected, and what can be done about it. */
export function LivePanel(props: ChargeProps & { live: LiveStart }) {
  const { live, job, now, rules, sender, step } = props;
  const { data: charge, error, refetch } = useCharge(live.chargeId);
  const newest = useLiveSample(live.chargeId);
  const { data: bench } = useBench();
  const { sign } = useSigning();
  const state = job.state.charge as ChargeState;
  if (error && !charge) return <NotFetched error={error} again={() => void refetch()} />;
  const last = newest ?? lastOf(charge);
  const running = state.mode === 'running';
  const air = ventilationNeed(chargingBatteries(bench?.jobs ?? []));
  const nextStage = async (stage: number, reason: string) => {
    const by = await sign();
    if (!by) return false;
    try {
      await ask('skipStage', {
        params: { id: live.chargeId },
        body: { commandId: newId(), by, stage, reason },
      });
    } catch (error) {
      notice.error((error as Error).message);
      return false;
    }
    await queryClient.invalidateQueries({ queryKey: ['charge', live.chargeId] });
    return true;
  };
  return (
    <>
      {!running && <Stopped state={state} now={now} rules={rules} trip={charge?.trip ?? null} />}
      {running && charge?.trip?.key === 'still-on' && (
        <Alarm
          tone="stop"
          title={tripTitle(charge.trip)}
          text={tripText(charge.trip, rules.temperatureUnit)}
        />
      )}
      <dl className="flex w-full flex-wrap items-start gap-x-8 gap-y-3">
        <Live
          value={last ? last.voltageV.toFixed(2) : '–'}
          unit="V"
          aside={`place ${state.place}, ${charge?.instrument ?? ''}`}
          live={running}
        />
        <Live
          value={last ? last.currentA.toFixed(2) : '–'}
          unit="A"
          aside={running ? 'flowing' : 'off'}
          live={running}
        />
        <Live
          value={
            last
              ? (formatTemperature(last.temperatureC, rules.temperatureUnit).split(' ')[0] ?? '')
              : '–'
          }
          unit={`°${rules.temperatureUnit}`}
          aside={`room ${formatTemperature(job.plan.roomC, rules.temperatureUnit)}`}
          live={running}
        />
        <Live
          value={(newest?.ahIn ?? charge?.run.ahIn ?? 0).toFixed(2)}
          unit="Ah in"
          aside={`${(charge?.run.whIn ?? 0).toFixed(0)} Wh`}
          live={false}
        />
        <TimeLeft charge={charge} running={running} now={now} wall={rules} />
      </dl>
      {!running && !state.resumesItself && (
        <ResumeForm
          {...props}
          suggestedC={last?.temperatureC ?? null}
          act="Go on from the same stage"
        />
      )}
      <div className="w-full">
        <WhenSeen height={338}>{charge && <LiveChart charge={charge} />}</WhenSeen>
      </div>
      {running && charge && stageOf(charge.plan, charge.run)?.do === 'pulse' && (
        <PulseScope
          chargeId={live.chargeId}
          stage={stageOf(charge.plan, charge.run) as FittedStage}
        />
      )}
      {charge && <Stages charge={charge} sentences={live.sentences} name={live.planName} />}
      <ProblemLine sender={sender} />
      <div className="flex flex-wrap gap-3">
        {running && (
          <PauseCharge {...PAUSE} sender={sender} stepId={step.id} className="act max-sm:hidden" />
        )}
        {running && charge && charge.run.stage < charge.plan.stages.length - 1 && (
          // A stage that ends meanwhile takes its question with it.
          <ReasonDialog
            key={charge.run.stage}
            sender={sender}
            trigger={
              <button type="button" className="act-quiet">
                On to the next stage
              </button>
            }
            title={`End stage ${charge.run.stage + 1} now?`}
            explain="The plan goes on with the stage after it. It stands on the record with your name."
            act="Go on"
            onConfirm={(reason) => nextStage(charge.run.stage, reason)}
          />
        )}
        {state.mode !== 'halted' && (
          <EndEarly
            sender={sender}
            stepId={step.id}
            title="End before the plan is done?"
            explain="The output goes off and the step is over. The reason is printed as a deviation unless the readings agree that it is full."
            act="Switch off and end it"
          />
        )}
        <p
          className={`ml-auto self-center text-[15px] ${air > rules.roomAirM3h ? 'text-oxide' : 'text-soft'}`}
        >
          {air > rules.roomAirM3h ? '✕ ' : ''}Air for hydrogen on the bench: {air.toFixed(1)} of{' '}
          {rules.roomAirM3h} m³/h
        </p>
      </div>
      {running && (
        <ThumbBar>
          <PauseCharge {...PAUSE} sender={sender} stepId={step.id} className="act" />
        </ThumbBar>
      )}
    </>
  );
}

function lastOf(charge: ChargeWire | undefined) {
  const lastSample = (charge?.samples.hours.length ?? 0) - 1;
  if (!charge || lastSample < 0) return null;
  const { voltageV, currentA, temperatureC } = charge.samples;
  return {
    voltageV: voltageV[lastSample] ?? 0,
    currentA: currentA[lastSample] ?? 0,
    temperatureC: temperatureC[lastSample] ?? 0,
  };
}

function Stopped({
  state,
  now,
  rules,
  trip,
}: {
  state: ChargeState;
  now: number;
  rules: HouseRules;
  trip: ChargeWire['trip'];
}) {
  const { temperatureUnit: unit } = rules;
  const since = `Since ${formatMomentBothWays(chargeOffSince(state) ?? now, now, rules)}.`;
  if (trip?.key === 'still-on')
    return <Alarm tone="stop" title={tripTitle(trip)} text={tripText(trip, unit)} />;
  const { title, text } = state.why ? whyWords(state.why, unit) : { title: 'Paused', text: '' };
  const tone = state.mode === 'halted' ? 'stop' : state.resumesItself ? 'cool' : 'ask';
  return <Alarm tone={tone} title={title || 'Stopped'} text={text} aside={since} />;
}

const TONES = {
  stop: 'border-oxide bg-oxide-pale',
  ask: 'border-ochre bg-ochre-pale',
  cool: 'border-slate bg-slate-pale',
} as const;

function Alarm({
  tone,
  title,
  text,
  aside,
}: {
  tone: keyof typeof TONES;
  title: string;
  text: string;
  aside?: string;
}) {
  return (
    <div role="alert" className={`w-full rounded-md border-l-8 px-4 py-3 text-lg ${TONES[tone]}`}>
      <b className="font-label text-2xl font-semibold">
        {tone === 'stop' ? '✕ ' : tone === 'ask' ? '? ' : ''}
        {title}.{' '}
      </b>
      {text} {aside && <span className="block text-base">{aside}</span>}
    </div>
  );
}

function Live({
  value,
  unit,
  aside,
  live,
}: {
  value: string;
  unit: string;
  aside: string;
  live: boolean;
}) {
  return (
    <div>
      <dd
        className={`font-label text-5xl leading-none font-semibold ${live ? 'text-ember-ink' : ''}`}
      >
        {value} <small className="text-xl font-medium text-soft">{unit}</small>
      </dd>
      <dt className="mt-1 text-[15px] text-soft">{aside}</dt>
    </div>
  );
}

/** When it will be done: by the twins that behave like it, with where eight of ten lie; at first by the best guess alone. */
function TimeLeft({
  charge,
  running,
  now,
  wall,
}: {
  charge: ChargeWire | undefined;
  running: boolean;
  now: number;
  wall: WallStyle;
}) {
  if (!charge) return null;
  const { left, expected, run } = charge;
  const hours = left?.middle ?? Math.max(0, expected.totalH - run.totalS / 3600);
  const clockIn = (later: number) => formatMoment(now + later * 3_600_000, now, wall);
  const aside = !running
    ? 'left once it goes on'
    : left
      ? `left; done ${clockIn(left.low)} to ${clockIn(left.high)}`
      : `left by its twin; done about ${clockIn(hours)}`;
  return (
    <div>
      <dd className="font-label text-5xl leading-none font-semibold">
        {formatDuration(hours * 3600)}
      </dd>
      <dt className="mt-1 text-[15px] text-soft">{aside}</dt>
    </div>
  );
}

/** The plan in its sentences: what is over and why, what runs, what is to come. */
function Stages({
  charge,
  sentences,
  name,
}: {
  charge: ChargeWire;
  sentences: readonly string[];
  name: string;
}) {
  const { run } = charge;
  return (
    <section aria-label="Charge plan" className="w-full rounded-md bg-hair px-4 py-3">
      <h3 className="mb-1 text-xl">{name}</h3>
      <ol className="grid gap-1 text-lg">
        {sentences.map((sentence, i) => {
          const standing = stageWords(run, i);
          return (
            <li
              key={i}
              className={`grid grid-cols-[1.5rem_1fr] ${standing.phase === 'coming' ? 'text-soft' : ''}`}
            >
              <span aria-hidden className={standing.phase === 'running' ? 'text-ember-ink' : ''}>
                {standing.phase === 'over' ? '✓' : standing.phase === 'running' ? '●' : '○'}
              </span>
              <span>
                <span className={standing.phase === 'running' ? 'font-semibold' : ''}>
                  {sentence}
                </span>{' '}
                <span className="text-soft">{standing.words}</span>
              </span>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

const PAUSE = {
  label: 'Pause',
  title: 'Pause the charge?',
  explain:
    'The output goes off at once and stays off until somebody lets it go on. The plan keeps its place.',
  act: 'Switch off and pause',
  suggestions: ['Feel the case', 'Place needed', 'Checking the leads'],
};
