import { useState } from 'react';
import { expectedMinutes } from '../../../../core/capacity/capacityTest.ts';
import { linesOf } from '../../../../core/plan/lines.ts';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import { capacityOfTest, restRun } from '../../../../core/recovery/recovery.ts';
import { recoveryOf } from '../../../../core/job/job.ts';
import { formatDuration, formatMoment } from '../../../../core/quantities/format.ts';
import { parseReading } from '../../../../core/quantities/parseReading.ts';
import type { QuantityKey } from '../../../../core/quantities/quantity.ts';
import { FigureButton } from '../../../inputs/FigureButton.tsx';
import { Labelled } from '../../../parts/Labelled.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import { ReadingField } from '../../../inputs/ReadingField.tsx';
import { ReasonDialog } from '../../../inputs/ReasonDialog.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { SpotReading } from '../../../inputs/SpotReading.tsx';

type CapacityProps = PanelProps & { step: StepOf<'capacity'> };

/** A discharge by hand with a watch that cannot be forgotten, and what it says of the battery. */
export function CapacityPanel(props: CapacityProps) {
  return recoveryOf(props.job).discharge ? <Running {...props} /> : <Start {...props} />;
}

function Start({ step, job, sender, rules }: CapacityProps) {
  const { testA, cutoffV } = job.plan.figures;
  const [texts, setTexts] = useState({
    amps: testA?.value.toFixed(1) ?? '',
    cutoff: cutoffV?.value.toFixed(2) ?? '',
    celsius: '',
  });
  const [faults, setFaults] = useState<Partial<Record<keyof typeof texts, string>>>({});
  const rest = restRun(job);
  const served = rules.instruments.some((i) => i.kind === 'load');
  const amps = Number(texts.amps.replace(',', '.'));
  const field = (key: keyof typeof texts, quantity: QuantityKey, label: string) => (
    <div className="w-44">
      <ReadingField
        quantity={quantity}
        label={label}
        value={texts[key]}
        message={faults[key]}
        onChange={(text) => {
          setTexts({ ...texts, [key]: text });
          setFaults({});
          sender.clear();
        }}
      />
    </div>
  );
  const start = () => {
    const parsed = {
      amps: parseReading(texts.amps, 'current', rules),
      cutoff: parseReading(texts.cutoff, 'voltage', rules),
      celsius: parseReading(texts.celsius, 'temperature', rules),
    };
    const wrong = Object.entries(parsed).flatMap(([key, p]) => (p.ok ? [] : [[key, p.message]]));
    if (wrong.length > 0) return setFaults(Object.fromEntries(wrong) as typeof faults);
    if (!parsed.amps.ok || !parsed.cutoff.ok || !parsed.celsius.ok) return undefined;
    return void sender.send({
      type: 'startDischarge',
      stepId: step.id,
      currentA: parsed.amps.value,
      cutoffV: parsed.cutoff.value,
      temperatureC: parsed.celsius.value,
    });
  };
  return (
    <>
      {rest?.end !== 'done' && (
        <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
          It did not rest its whole time. The test counts, and is marked: it flatters a little.
        </p>
      )}
      {served && (
        <div className="flex w-full flex-wrap items-center gap-x-5 gap-y-2 rounded-md bg-hair px-4 py-3">
          <p className="max-w-[58ch] min-w-60 flex-1 text-lg leading-tight">
            <b>An instrument can do this:</b> down to {cutoffV?.value.toFixed(2)} V with{' '}
            {testA?.value.toFixed(1)} A, minutes written down by itself, and charged full at once.
            Nobody has to stand by.
          </p>
          <button
            type="button"
            className="act"
            disabled={sender.busy}
            onClick={() => void sender.send({ type: 'testByInstrument', stepId: step.id })}
          >
            Let an instrument test it
          </button>
        </div>
      )}
      {served && <h3 className="text-xl">Or by hand</h3>}
      <div className="flex flex-wrap items-start gap-4">
        {testA && (
          <div className="w-40">
            <FigureButton figure={testA} />
          </div>
        )}
        {cutoffV && (
          <div className="w-44">
            <FigureButton figure={cutoffV} />
          </div>
        )}
        {amps > 0 && (
          <p className="text-lg leading-tight">
            <span className="label block">A sound one lasts about</span>
            <b className="font-label text-2xl font-semibold">
              {formatDuration(
                expectedMinutes(amps, linesOf(job.plan).capacity, job.plan.model.c20Ah) * 60,
              )}
            </b>
          </p>
        )}
      </div>
      <div className="flex flex-wrap gap-3">
        {field('amps', 'current', 'Constant current')}
        {field('cutoff', 'voltage', 'Until it falls to')}
        {field('celsius', 'temperature', 'Its temperature')}
      </div>
      <ProblemLine sender={sender} />
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className={served ? 'act-quiet' : 'act'}
          disabled={sender.busy}
          onClick={start}
        >
          Load is on, clock runs
        </button>
      </div>
    </>
  );
}

function Running({ step, job, sender, now, rules }: CapacityProps) {
  const discharge = recoveryOf(job).discharge;
  const [minutes, setMinutes] = useState('');
  const [volts, setVolts] = useState(discharge?.cutoffV.toFixed(2) ?? '');
  const [fault, setFault] = useState<string>();
  if (!discharge) return null;
  const ranMin = (now - discharge.startedAt) / 60_000;
  const late = now > discharge.expectedEndAt;
  const shown = minutes.trim() === '' ? ranMin : Number(minutes.replace(',', '.'));
  const soFar =
    shown > 0.5
      ? capacityOfTest(job, {
          currentA: discharge.currentA,
          minutes: shown,
          cutoffV: discharge.cutoffV,
          temperatureC: discharge.temperatureC,
          method: 'hand',
        })
      : null;
  const end = () => {
    const v = parseReading(volts, 'voltage', rules);
    if (!v.ok) return setFault(v.message);
    if (!(shown > 0)) return setFault('Minutes, from the clock.');
    return void sender.send({
      type: 'endDischarge',
      stepId: step.id,
      minutes: Math.round(shown * 10) / 10,
      endV: v.value,
    });
  };
  return (
    <>
      <div
        role={late ? 'alert' : undefined}
        className={`flex w-full flex-wrap items-center gap-x-10 gap-y-2 rounded-md border-l-8 px-4 py-3 ${late ? 'border-oxide bg-oxide-pale' : 'border-ember bg-ember-pale'}`}
      >
        <p className="leading-tight">
          <span className="label block">On load for</span>
          <b className="font-label text-4xl font-semibold">{formatDuration(ranMin * 60)}</b>
        </p>
        <p className="text-lg leading-tight">
          {discharge.currentA.toFixed(1)} A, until {discharge.cutoffV.toFixed(2)} V
          <span className="block text-soft">
            {late
              ? 'A sound one would be empty by now: read its volts, take the load off.'
              : `A sound one lasts until ${formatMoment(discharge.expectedEndAt, now, rules)}.`}
          </span>
        </p>
        {soFar && (
          <p className="leading-tight">
            <span className="label block">So far, at C20</span>
            <b className="font-label text-2xl font-semibold">{soFar.c20.middle.toFixed(1)} Ah</b>
            <span className="text-soft"> {(100 * soFar.health).toFixed(0)} %</span>
          </p>
        )}
      </div>
      <p className="text-soft">
        By hand its volts are read at least every quarter of an hour, oftener towards the end. The
        bench reminds you; late, it rings.
      </p>
      <div className="flex flex-wrap items-start gap-3">
        <div className="w-44">
          <ReadingField
            quantity="voltage"
            label="Volts, load still on"
            value={volts}
            onChange={setVolts}
            message={fault}
          />
        </div>
        <div className="w-44">
          <Labelled label="Minutes on load">
            <input
              className="field font-label text-2xl! font-semibold"
              inputMode="decimal"
              placeholder={ranMin.toFixed(0)}
              value={minutes}
              onChange={(e) => setMinutes(e.target.value)}
            />
          </Labelled>
        </div>
      </div>
      <ProblemLine sender={sender} />
      <div className="flex flex-wrap gap-3">
        <button type="button" className="act" disabled={sender.busy} onClick={end}>
          It fell to the cut-off, load off
        </button>
        <SpotReading
          sender={sender}
          place={undefined}
          onKept={() => undefined}
          trigger={
            <button type="button" className="act-quiet">
              Read it in between
            </button>
          }
        />
        <ReasonDialog
          sender={sender}
          trigger={
            <button type="button" className="act-quiet">
              Break it off
            </button>
          }
          title="Break the test off?"
          explain="The load is off. Nothing is counted; it can be begun again."
          act="Broken off"
          onConfirm={(reason) => sender.send({ type: 'dropDischarge', stepId: step.id, reason })}
        />
      </div>
    </>
  );
}
