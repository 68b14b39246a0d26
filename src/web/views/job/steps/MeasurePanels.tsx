import { useSay } from '../../../line/queries.ts';
import { useEffect, useState } from 'react';
import { loadTestMinimumV } from '../../../../core/capacity/loadTest.ts';
import { linesOf } from '../../../../core/plan/lines.ts';
import { restVoltageAtCharge } from '../../../../core/capacity/stateOfCharge.ts';
import { CCA_STANDARDS, type CcaStandard } from '../../../../core/batteries/model.ts';
import { standingReadings } from '../../../../core/job/job.ts';
import { jobChemistry } from '../../../../core/job/verdict.ts';
import { Labelled } from '../../../parts/Labelled.tsx';
import {
  formatMoment,
  formatMomentBothWays,
  type WallStyle,
} from '../../../../core/quantities/format.ts';
import { momentOfAct } from '../../../line/benchClock.ts';
import { FigureButton } from '../../../inputs/FigureButton.tsx';
import { ReadingForm } from '../../../inputs/ReadingForm.tsx';
import { ProblemLine } from '../../../inputs/ProblemLine.tsx';
import type { PanelProps } from '../../../inputs/Card.tsx';
import { settledEstimate } from '../settled.ts';
import { sendReading } from '../../../line/sendReading.ts';
import {
  SURFACE_RECOVERS_S,
  SURFACE_REST_S,
  SURFACE_LOAD_C,
} from '../../../../core/capacity/surfaceCharge.ts';
import { TermLink } from '../../../parts/TermLink.tsx';

/** Rest voltage. A reading that cannot be judged is kept and said so, and the step stays in hand. */
export function MeasurePanel({ job, sender, now, rules }: PanelProps) {
  const rest = job.state.runs.findLast((r) => r.attempt === job.state.attempt && r.dueAt !== null);
  const last = standingReadings(job.state, 'rest').findLast((r) => r.attempt === job.state.attempt);
  const early = rest?.dueAt && now < rest.dueAt;
  const settled = last?.marks.some((m) => m === 'early' || m === 'surface')
    ? settledEstimate(job)
    : null;
  return (
    <>
      <div className="w-40">
        <FigureButton figure={job.plan.figures.passV} />
      </div>
      {early && rest.dueAt && (
        <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
          The rest was cut short. A voltage can be judged from{' '}
          {formatMoment(rest.dueAt, now, rules)}; until then it is kept and marked as early.
        </p>
      )}
      {last?.marks.includes('surface') && (
        <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
          {last.values.voltageV?.toFixed(2)} V is above any rested battery of this kind: surface
          charge. It is kept, not judged. Let it rest and read again.
          {job.procedure.purpose === 'recover' &&
            ' The same a second time counts: one that has lost water has stronger acid.'}
        </p>
      )}
      {last?.marks.includes('early') && (
        <p className="text-lg text-soft">
          Read early: {last.values.voltageV?.toFixed(2)} V at {formatMoment(last.at, now, rules)},
          not judged.
        </p>
      )}
      {settled && <p className="rounded-md bg-slate-pale px-4 py-2 text-lg">{settled.sentence}</p>}
      <div className="w-full max-w-md">
        <ReadingForm
          must={['voltageV']}
          act="Save reading"
          sender={sender}
          autoFocus
          place={job.state.charge?.place}
          onSend={sendReading(sender, 'rest')}
        />
      </div>
      <ProblemLine sender={sender} />
    </>
  );
}

/** Rest voltage as it came: what is in it, and so how long its charge will take. */
export function ArrivalPanel({ sender, job, now, rules }: PanelProps) {
  const say = useSay();
  const [fresh, setFresh] = useState(false);
  const last = standingReadings(job.state, 'arrival').at(-1);
  const kept = last?.marks.includes('fresh') ? last : null;
  return (
    <>
      {kept && (
        <FreshNote
          voltageV={kept.values.voltageV ?? 0}
          at={kept.at}
          c20Ah={job.plan.model.c20Ah}
          now={now}
          wall={rules}
        />
      )}
      <fieldset>
        <legend className="label mb-1">Just off a charger, or driven here within the hour?</legend>
        <div className="flex gap-2">
          {([false, true] as const).map((answer) => (
            <button
              key={String(answer)}
              type="button"
              aria-pressed={fresh === answer}
              className={`act-quiet min-w-20 ${fresh === answer ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() => setFresh(answer)}
            >
              {answer ? 'Yes' : 'No'}
            </button>
          ))}
        </div>
      </fieldset>
      <div className="w-full max-w-xl">
        <ReadingForm
          must={['voltageV']}
          may={['temperatureC']}
          act="Save reading"
          sender={sender}
          autoFocus
          onSend={sendReading(sender, 'arrival', () => setFresh(false), fresh ? { fresh } : {})}
        />
      </div>
      <p className="max-w-[70ch] text-soft">
        Full is about {restVoltageAtCharge(100, job.plan.model.cells, jobChemistry(job)).toFixed(2)}{' '}
        V, half about {restVoltageAtCharge(50, job.plan.model.cells, jobChemistry(job)).toFixed(2)}{' '}
        V ({jobChemistry(job).name} table, {say('25 °C')}).
      </p>
      <ProblemLine sender={sender} />
    </>
  );
}

/** A first voltage with surface charge on it: when it will be true, and how to take it off sooner. */
function FreshNote({
  voltageV,
  at,
  c20Ah,
  now,
  wall,
}: {
  voltageV: number;
  at: number;
  c20Ah: number;
  now: number;
  wall: WallStyle;
}) {
  const trueAt = at + SURFACE_REST_S * 1000;
  return (
    <p className="rounded-md bg-ochre-pale px-4 py-2 text-lg">
      <b>
        {voltageV.toFixed(2)} V with <TermLink term="surface-charge">surface charge</TermLink> on it
      </b>
      , read {formatMoment(at, now, wall)}: kept, not judged. It is true from{' '}
      {formatMomentBothWays(trueAt, now, wall)} with nothing connected. Sooner: take about{' '}
      {Math.max(0.5, SURFACE_LOAD_C * c20Ah).toFixed(c20Ah < 20 ? 1 : 0)} A out of it for a minute
      (a lamp will do), wait {SURFACE_RECOVERS_S / 60} minutes, and measure again.
    </p>
  );
}

type LoadWay = 'load' | 'analyser';

/** Under load, by one of two ways: amperes for 15 s, or an analyser's CCA in the standard of the rating. */
export function LoadPanel(props: PanelProps) {
  const { model } = props.job.plan;
  const [way, setWay] = useState<LoadWay>('load');
  return (
    <>
      {model.cca !== null && (
        <div role="group" aria-label="How it is tested" className="flex flex-wrap gap-2">
          {(
            [
              ['load', 'Load for 15 s'],
              ['analyser', `Analyser, CCA ${model.ccaStandard}`],
            ] as const
          ).map(([key, label]) => (
            <button
              key={key}
              type="button"
              aria-pressed={way === key}
              className={`act-quiet ${way === key ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() => setWay(key)}
            >
              {label}
            </button>
          ))}
        </div>
      )}
      {way === 'load' ? <LoadTest {...props} /> : <AnalyserTest {...props} />}
    </>
  );
}

/** CCA by an analyser. Standards are different tests: the analyser is set to that of the rating, nothing is converted. */
function AnalyserTest({ job, wire, sender }: PanelProps) {
  const { ccaLeastA } = job.plan.figures;
  const { ccaStandard } = job.plan.model;
  const [standard, setStandard] = useState<CcaStandard>(ccaStandard ?? 'EN');
  return (
    <>
      <div className="flex flex-wrap items-start gap-4">
        {ccaLeastA && (
          <div className="w-40">
            <FigureButton figure={ccaLeastA} />
          </div>
        )}
        <Labelled label="Analyser set to">
          <select
            className="field"
            value={standard}
            onChange={(e) => setStandard(e.target.value as CcaStandard)}
          >
            {CCA_STANDARDS.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
        </Labelled>
      </div>
      <div className="w-full">
        <ReadingForm
          must={['ccaA']}
          may={['resistanceMilliohm', 'voltageV', 'temperatureC']}
          act="Save reading"
          sender={sender}
          autoFocus
          place={job.state.charge?.place}
          printOut={{ tag: wire.battery.tag, jobId: wire.id }}
          onSend={(values, sure, _cells, id) =>
            sender.send(
              { type: 'read', role: 'analyser', values, standard, takenAt: momentOfAct(), sure },
              id,
            )
          }
        />
      </div>
      <ProblemLine sender={sender} />
    </>
  );
}

/** Load test: a countdown for the hands, the volts at its end, and the least that passes at this temperature. */
function LoadTest({ job, sender }: PanelProps) {
  const say = useSay();
  const { loadA, loadS, loadMinV } = job.plan.figures;
  const { loadMinimum } = linesOf(job.plan);
  const { cells } = job.plan.model;
  const [started, setStarted] = useState<number | null>(null);
  const [left, setLeft] = useState(loadS.value);
  useEffect(() => {
    if (started === null) return undefined;
    // The load is on in real seconds, whatever the bench clock does.
    const timer = setInterval(
      () => setLeft(Math.max(0, loadS.value - (performance.now() - started) / 1000)),
      100,
    );
    return () => clearInterval(timer);
  }, [started, loadS.value]);
  return (
    <>
      <div className="flex flex-wrap items-center gap-4">
        <div className="w-32">
          <FigureButton figure={loadA} />
        </div>
        <div className="w-56">
          <FigureButton figure={loadMinV} />
        </div>
        <p className="max-w-60 text-[15px] text-soft">
          At {say('10 °C')} {loadTestMinimumV(10, cells, loadMinimum).toFixed(2)} V, at{' '}
          {say('-1 °C')} {loadTestMinimumV(-1, cells, loadMinimum).toFixed(2)} V. Judged at the
          temperature you type.
        </p>
        <button
          type="button"
          className="act-quiet min-h-16! min-w-40"
          onClick={() => setStarted(performance.now())}
        >
          {started === null ? (
            'Load is on'
          ) : left > 0 ? (
            <b className="text-3xl">{Math.ceil(left)} s</b>
          ) : (
            'Read now, load off'
          )}
        </button>
      </div>
      <div className="w-full">
        <ReadingForm
          must={['voltageV', 'temperatureC']}
          may={['beforeV', 'afterV']}
          labels={{ voltageV: `Volts at ${loadS.value} s`, beforeV: 'Before', afterV: 'After' }}
          act="Save reading"
          sender={sender}
          autoFocus
          onSend={sendReading(sender, 'load')}
        />
      </div>
      <ProblemLine sender={sender} />
    </>
  );
}
