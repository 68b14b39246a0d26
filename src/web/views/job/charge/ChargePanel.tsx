import { chargeStatus, type ChargeStatus } from '../../../../core/job/chargeStatus.ts';
import { chargeOffSince, chargeStartedAt } from '../../../../core/job/chargeState.ts';
import {
  formatDuration,
  formatMoment,
  formatMomentBothWays,
} from '../../../../core/quantities/format.ts';
import { ReadingForm } from '../../../inputs/ReadingForm.tsx';
import { useRef, useState } from 'react';
import { PauseCharge } from './PauseCharge.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { CellReading } from '../../../inputs/CellReading.tsx';
import { LivePanel } from './LivePanel.tsx';
import { canTopUp, TopUpDialog } from '../TopUpDialog.tsx';
import { ResumeForm } from './ResumeForm.tsx';
import { StartCharge } from './StartCharge.tsx';
import { tripText } from '../../../../core/charging/tripWords.ts';
import { whyWords, type Why } from '../../../../core/job/why.ts';
import type { ChargeProps } from './props.ts';
import { sendReading } from '../../../line/sendReading.ts';
import { chargerInUseWords } from '../../../../core/chargers/fitWords.ts';
import { EndEarly } from './EndEarly.tsx';
import { showsNoAmps, showingsOfCharge, lastShowing } from '../../../../core/job/chargeShowing.ts';
import { showingText } from '../../../../core/chargers/showingWords.ts';
import { Showings } from './Showings.tsx';
import { fieldsFor } from '../../../../core/steps/readingFields.ts';
import { HandStart } from './HandStart.tsx';
import { FoundOff } from './FoundOff.tsx';
import { showingsOf } from '../../../../core/chargers/showing.ts';
import { ThumbBar } from '../../../parts/ThumbBar.tsx';

type Props = ChargeProps;

/** The initial charge: run by an instrument that watches itself, or by hand with a reading each hour. */
export function ChargePanel(props: Props) {
  const { charge } = props.job.state;
  if (!charge || charge.mode === 'ended') return <StartCharge {...props} />;
  if (charge.live) return <LivePanel {...props} live={charge.live} />;
  const status = chargeStatus(props.job, props.now);
  return charge.mode === 'running' ? (
    <RunningCharge {...props} status={status} />
  ) : (
    <StoppedCharge {...props} halted={charge.mode === 'halted'} why={charge.why} />
  );
}

function RunningCharge({
  step,
  job,
  sender,
  now,
  rules,
  status,
}: Props & { status: ChargeStatus }) {
  const { charge } = job.state;
  const { progress, nextReadingAt, expectedEndAt } = status;
  const warning = status.trips.find((t) => t.action === 'warn');
  const own = charge?.charger?.own;
  const reading = useRef<HTMLDivElement>(null);
  const noAmps = showsNoAmps(charge);
  const seen = lastShowing(job);
  const doubt = seen?.finding && seen.finding.kind !== 'full';
  const lookedAt = Math.max(
    charge?.on.at(-1)?.from ?? now,
    status.readings.at(-1)?.at ?? 0,
    showingsOfCharge(job).at(-1)?.at ?? 0,
  );
  return (
    <>
      <dl className="grid grid-cols-2 gap-x-8 gap-y-3 sm:flex sm:flex-wrap">
        <Fact
          label="Current on since"
          value={formatMoment(charge ? chargeStartedAt(charge) : now, now, rules)}
          aside={`place ${charge?.place}, ${charge?.charger ? `${chargerInUseWords(charge.charger)}, ` : ''}${charge?.setA.toFixed(1)} A to ${charge?.setV.toFixed(2)} V`}
        />
        <Fact
          label="Put in so far"
          value={
            status.estimatedAh
              ? `${status.estimatedAh.low.toFixed(0)}–${status.estimatedAh.high.toFixed(0)} Ah`
              : `${status.ampereHours.toFixed(1)} Ah`
          }
          aside={
            status.estimatedAh ? 'estimated: nothing shows the current' : 'up to the last reading'
          }
        />
        <Fact
          label="Expected end"
          value={expectedEndAt ? formatMoment(expectedEndAt, now, rules) : ''}
          aside={own ? 'by this charger; readings decide' : 'by the plan; readings decide'}
        />
        {nextReadingAt && (
          <Fact
            label={noAmps ? 'Next look' : 'Next reading'}
            value={formatMoment(nextReadingAt, now, rules)}
            aside={
              nextReadingAt > now ? `in ${formatDuration((nextReadingAt - now) / 1000)}` : 'due now'
            }
          />
        )}
      </dl>
      {warning && (
        <p
          role="alert"
          className="rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2 text-lg"
        >
          {tripText(warning, rules.temperatureUnit)}
        </p>
      )}
      {noAmps && own && showingsOf(own).length > 0 && (
        <Showings
          own={own}
          sender={sender}
          last={
            seen?.reading.showing
              ? `${showingText(seen.reading.showing)}, ${formatMoment(seen.reading.at, now, rules)}`
              : null
          }
        />
      )}
      <div ref={reading} className="w-full max-w-3xl">
        <ReadingForm
          must={fieldsFor('charge', charge).must}
          may={canTopUp(job) ? ['specificGravity'] : []}
          labels={{ specificGravity: 'SG of one cell' }}
          act="Save reading"
          sender={sender}
          autoFocus
          onSend={sendReading(sender, 'charge')}
        />
      </div>
      <p
        className={`rounded-md px-4 py-2 text-lg ${progress.agrees ? 'bg-moss-pale' : doubt ? 'border-l-8 border-ochre bg-ochre-pale' : 'bg-hair'}`}
      >
        {progress.agrees ? '✓ ' : ''}
        {progress.sentence}
      </p>
      <ProblemLine sender={sender} />
      {canTopUp(job) && (
        <div className="flex flex-wrap items-center gap-3">
          <span className="text-lg">Levels, while you are there:</span>
          <CellReading
            job={job}
            sender={sender}
            trigger={
              <button type="button" className="act-quiet">
                Look at the cells
              </button>
            }
            onKept={() => undefined}
          />
          <TopUpDialog
            job={job}
            sender={sender}
            trigger={
              <button type="button" className="act-quiet">
                Top up
              </button>
            }
            onKept={() => undefined}
          />
        </div>
      )}
      <div className="flex flex-wrap gap-3">
        {progress.agrees ? (
          <button
            type="button"
            className="act"
            disabled={sender.busy}
            onClick={() => void sender.send({ type: 'endCharge', stepId: step.id })}
          >
            Charger off: end the charge
          </button>
        ) : (
          <EndEarly
            sender={sender}
            stepId={step.id}
            title="End before the numbers agree?"
            explain={`${progress.sentence} A charger that says full is not enough. The reason is printed as a deviation.`}
            act="End it"
          />
        )}
        {doubt && (
          <button
            type="button"
            className="act"
            disabled={sender.busy}
            onClick={() => void sender.send({ type: 'reconnect', stepId: step.id })}
          >
            Connected again
          </button>
        )}
        {charge && (
          <FoundOff
            charge={charge}
            stepId={step.id}
            sender={sender}
            now={now}
            lastLookAt={lookedAt}
            rules={rules}
          />
        )}
        <PauseCharge
          {...BY_HAND}
          sender={sender}
          stepId={step.id}
          className="act-quiet max-sm:hidden"
        />
      </div>
      <ThumbBar>
        <button
          type="button"
          className="act"
          onClick={() => {
            const field = reading.current?.querySelector('input');
            field?.scrollIntoView({ block: 'center' });
            field?.focus();
          }}
        >
          Volts
        </button>
        <PauseCharge {...BY_HAND} sender={sender} stepId={step.id} className="act-quiet" />
      </ThumbBar>
    </>
  );
}

const BY_HAND = {
  label: 'Pause the charge',
  title: 'Charger off, then pause',
  explain: 'Warm to the hand: let it cool, then go on. The hours with current off are not counted.',
  act: 'It is off',
  suggestions: ['Warm to the hand', 'Place needed', 'Checking the leads'],
};

function StoppedCharge({ halted, why, ...props }: Props & { halted: boolean; why: Why | null }) {
  const { job, now, rules, sender, step } = props;
  const [moves, setMoves] = useState(false);
  const byCharger = why?.by === 'charger';
  const since = (job.state.charge && chargeOffSince(job.state.charge)) ?? now;
  return (
    <>
      <div
        role="alert"
        className={`rounded-md border-l-8 px-4 py-3 text-xl ${halted ? 'border-oxide bg-oxide-pale' : 'border-ochre bg-ochre-pale'}`}
      >
        <b>{halted ? 'Stopped. ' : 'Paused. '}</b>
        {why && byCharger && <>{whyWords(why, rules.temperatureUnit).title}. </>}
        {why && whyWords(why, rules.temperatureUnit).text}
        <span className="block text-base">Since {formatMomentBothWays(since, now, rules)}.</span>
      </div>
      {byCharger ? (
        <>
          <div className="flex flex-wrap gap-3">
            <button
              type="button"
              className="act"
              disabled={sender.busy}
              onClick={() => void sender.send({ type: 'reconnect', stepId: step.id })}
            >
              Connected again: it charges
            </button>
            {job.state.charge?.charger?.own && (
              <EndEarly
                sender={sender}
                stepId={step.id}
                title="End this charge?"
                explain="The charger does not charge it. The reason is printed as a deviation."
                act="End it"
              />
            )}
          </div>
          <ProblemLine sender={sender} />
        </>
      ) : (
        <ResumeForm {...props} act="Cool: current on again" />
      )}
      {!halted && job.state.charge && (
        <div className="w-full">
          <button
            type="button"
            className="act-quiet"
            aria-expanded={moves}
            onClick={() => setMoves(!moves)}
          >
            Put it on another charger
          </button>
          {moves && (
            <div className="mt-3">
              <HandStart {...props} place={job.state.charge.place} aside={null} />
            </div>
          )}
        </div>
      )}
    </>
  );
}

function Fact({ label, value, aside }: { label: string; value: string; aside: string }) {
  return (
    <div>
      <dt className="label">{label}</dt>
      <dd>
        <b className="big">{value}</b>
        <span className="block text-[15px] text-soft">{aside}</span>
      </dd>
    </div>
  );
}
