import { type FormEvent, useState } from 'react';
import { compensatedCeilingV } from '../../../core/charging/limits.ts';
import { chargeStatus, type ChargeStatus } from '../../../core/procedures/chargeStatus.ts';
import { chargeOffSince, chargeStartedAt } from '../../../core/procedures/job.ts';
import type { StepOf } from '../../../core/procedures/procedure.ts';
import { formatDuration, formatMoment, formatMomentBothWays } from '../../../core/quantities/format.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import { momentOfAct } from '../../app/benchClock.ts';
import { useBench } from '../../app/queries.ts';
import { ReadingField } from '../../inputs/ReadingField.tsx';
import { ReadingForm } from '../../inputs/ReadingForm.tsx';
import { ReasonDialog } from '../../inputs/ReasonDialog.tsx';
import { ProblemLine } from '../../inputs/ProblemLine.tsx';
import type { PanelProps } from './Card.tsx';

type Props = PanelProps & { step: StepOf<'charge'> };

/** The initial charge run by hand: connect, read each hour, and end it when the numbers agree. */
export function ChargePanel(props: Props) {
  const { charge } = props.job.state;
  if (!charge || charge.mode === 'ended') return <StartCharge {...props} />;
  const status = chargeStatus(props.job, props.now);
  return charge.mode === 'running' ? (
    <RunningCharge {...props} status={status} />
  ) : (
    <StoppedCharge {...props} halted={charge.mode === 'halted'} reason={charge.reason ?? ''} />
  );
}

function StartCharge({ step, job, wire, sender, rules }: Props) {
  const { chargeA, ceilingV } = job.plan.figures;
  const { data } = useBench();
  const taken = new Set(
    (data?.jobs ?? []).filter((j) => j.id !== wire.id && j.state.charge && j.state.charge.mode !== 'ended').map((j) => j.state.charge?.place),
  );
  const places = Array.from({ length: rules.places }, (_, i) => i + 1);
  const [place, setPlace] = useState<number | null>(null);
  const chosen = place ?? places.find((p) => !taken.has(p)) ?? 1;
  const [amps, setAmps] = useState(chargeA.value.toFixed(2));
  const [volts, setVolts] = useState(ceilingV.value.toFixed(2));
  const [reason, setReason] = useState('');
  const [faults, setFaults] = useState<{ amps?: string; volts?: string }>({});

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const setA = parseReading(amps, 'current');
    const setV = parseReading(volts, 'voltage');
    setFaults({ ...(setA.ok ? {} : { amps: setA.message }), ...(setV.ok ? {} : { volts: setV.message }) });
    if (!setA.ok || !setV.ok) return;
    await sender.send({
      type: 'startCharge',
      stepId: step.id,
      place: chosen,
      setA: setA.value,
      setV: setV.value,
      ...(reason.trim() ? { reason: reason.trim() } : {}),
    });
  };
  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid w-full gap-3">
      <fieldset>
        <legend className="label mb-1">Charging place</legend>
        <div className="flex flex-wrap gap-2">
          {places.map((p) => (
            <button
              key={p}
              type="button"
              aria-pressed={p === chosen}
              disabled={taken.has(p)}
              onClick={() => setPlace(p)}
              className={`act-quiet min-w-12 px-2! ${p === chosen ? 'border-ink! bg-ink! text-sheet!' : ''}`}
            >
              {p}
              {taken.has(p) && <span className="sr-only"> taken</span>}
            </button>
          ))}
        </div>
      </fieldset>
      <div className="flex max-w-xl flex-wrap items-start gap-3">
        <ReadingField
          quantity="current"
          label="Charger set to"
          value={amps}
          onChange={setAmps}
          message={faults.amps ?? sender.problem?.fields['setA']}
          temperatureUnit="C"
        />
        <ReadingField
          quantity="voltage"
          label="Ceiling set to"
          value={volts}
          onChange={setVolts}
          message={faults.volts ?? sender.problem?.fields['setV']}
          temperatureUnit="C"
        />
        <button type="submit" className="act mt-6 min-h-12!" disabled={sender.busy}>
          Current is on
        </button>
      </div>
      <p className="text-soft">
        In a room at {job.plan.roomC} °C the ceiling is {compensatedCeilingV(ceilingV.value, job.plan.model.cells, job.plan.roomC).toFixed(2)} V if the charger
        corrects for temperature; without correction set {ceilingV.value.toFixed(2)} V.
      </p>
      <ProblemLine sender={sender} />
      {sender.problem?.fields['reason'] && (
        <label className="max-w-xl">
          <span className="label">Reason, for the sheet</span>
          <input className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
        </label>
      )}
    </form>
  );
}

function RunningCharge({ step, job, sender, now, rules, status }: Props & { status: ChargeStatus }) {
  const { charge } = job.state;
  const { progress, nextReadingAt, expectedEndAt } = status;
  const warning = status.trips.find((t) => t.action === 'warn');
  return (
    <>
      <dl className="grid grid-cols-2 gap-x-8 gap-y-3 sm:flex sm:flex-wrap">
        <Fact
          label="Current on since"
          value={formatMoment(charge ? chargeStartedAt(charge) : now, now, rules.timeZone)}
          aside={`place ${charge?.place}, ${charge?.setA.toFixed(1)} A to ${charge?.setV.toFixed(2)} V`}
        />
        <Fact label="Put in so far" value={`${status.ampereHours.toFixed(1)} Ah`} aside="up to the last reading" />
        <Fact label="Expected end" value={expectedEndAt ? formatMoment(expectedEndAt, now, rules.timeZone) : ''} aside="by the plan; readings decide" />
        {nextReadingAt && (
          <Fact
            label="Next reading"
            value={formatMoment(nextReadingAt, now, rules.timeZone)}
            aside={nextReadingAt > now ? `in ${formatDuration((nextReadingAt - now) / 1000)}` : 'due now'}
          />
        )}
      </dl>
      {warning && (
        <p role="alert" className="rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2 text-lg">
          {warning.sentence}
        </p>
      )}
      <div className="w-full max-w-3xl">
        <ReadingForm
          must={['voltageV', 'currentA', 'temperatureC']}
          act="Keep reading"
          sender={sender}
          autoFocus
          onSend={(values, sure) => sender.send({ type: 'read', role: 'charge', values, takenAt: momentOfAct(), sure })}
        />
      </div>
      <p className={`rounded-md px-4 py-2 text-lg ${progress.agrees ? 'bg-moss-pale' : 'bg-hair'}`}>
        {progress.agrees ? '✓ ' : ''}
        {progress.sentence}
      </p>
      <ProblemLine sender={sender} />
      <div className="flex flex-wrap gap-3">
        {progress.agrees ? (
          <button type="button" className="act" disabled={sender.busy} onClick={() => void sender.send({ type: 'endCharge', stepId: step.id })}>
            Charger off: end the charge
          </button>
        ) : (
          <ReasonDialog
            sender={sender}
            trigger={
              <button type="button" className="act-quiet">
                End the charge early
              </button>
            }
            title="End before the numbers agree?"
            explain={`${progress.sentence} A charger that says full is not enough. The reason is printed as a deviation.`}
            act="End it"
            onConfirm={(reason) => sender.send({ type: 'endCharge', stepId: step.id, reason })}
          />
        )}
        <ReasonDialog
          sender={sender}
          trigger={
            <button type="button" className="act-quiet">
              Pause the charge
            </button>
          }
          title="Charger off, then pause"
          explain="Warm to the hand: let it cool, then go on. The hours with current off are not counted."
          act="It is off"
          reasonLabel="Why"
          suggestions={['Warm to the hand', 'Place needed', 'Checking the leads']}
          onConfirm={(reason) => sender.send({ type: 'pauseCharge', stepId: step.id, reason })}
        />
      </div>
    </>
  );
}

function StoppedCharge({ step, job, sender, now, rules, halted, reason }: Props & { halted: boolean; reason: string }) {
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string>();
  const since = (job.state.charge && chargeOffSince(job.state.charge)) ?? now;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const parsed = parseReading(text, 'temperature', rules.temperatureUnit);
    if (!parsed.ok) setFault(parsed.message);
    else await sender.send({ type: 'resumeCharge', stepId: step.id, temperatureC: parsed.value });
  };
  return (
    <>
      <div role="alert" className={`rounded-md border-l-8 px-4 py-3 text-xl ${halted ? 'border-oxide bg-oxide-pale' : 'border-ochre bg-ochre-pale'}`}>
        <b>{halted ? 'Stopped. ' : 'Paused. '}</b>
        {reason}
        <span className="block text-base">Since {formatMomentBothWays(since, now, rules.timeZone)}.</span>
      </div>
      <form onSubmit={(e) => void submit(e)} noValidate className="flex max-w-xl flex-wrap items-start gap-3">
        <ReadingField
          quantity="temperature"
          label="Temperature now"
          value={text}
          onChange={(t) => {
            setText(t);
            setFault(undefined);
            sender.clear();
          }}
          message={fault ?? sender.problem?.fields['temperatureC']}
          temperatureUnit={rules.temperatureUnit}
        />
        <button type="submit" className="act mt-6 min-h-12!" disabled={sender.busy}>
          Cool: current on again
        </button>
      </form>
      {halted && <p className="text-lg">It was stopped hot: only a lead lets it go on. Or hand it to the lead from the menu.</p>}
      {!sender.problem?.fields['temperatureC'] && <ProblemLine sender={sender} />}
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
