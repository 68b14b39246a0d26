import { useMutation } from '@tanstack/react-query';
import type { PulseRecord } from '../../../../contract/chargeWire.ts';
import {
  firstBurstS,
  orderedShape,
  recordSeconds,
  WAVEFORM_FINDINGS,
  waveformFigures,
  waveformFinding,
} from '../../../../core/charging/waveform.ts';
import type { FittedStage } from '../../../../core/charging/fitPlan.ts';
import { formatDuration } from '../../../../core/quantities/format.ts';
import { ask, problemOf } from '../../../line/api.ts';

const [WIDTH, HEIGHT] = [640, 150];

/** One window of the real pulses, as on a scope, before the shape that was ordered. */
export function PulseScope({ chargeId, stage }: { chargeId: string; stage: FittedStage }) {
  const { mutate, data, isPending, error } = useMutation({
    mutationFn: () => ask('waveform', { params: { id: chargeId } }),
  });
  return (
    <section aria-label="Pulses" className="w-full rounded-md border border-line p-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h3 className="text-xl">Pulses, as they are</h3>
        <button type="button" className="act-quiet" disabled={isPending} onClick={() => mutate()}>
          {isPending
            ? `Recording ${formatDuration(recordSeconds(stage))}`
            : data
              ? 'Record again'
              : `Record ${formatDuration(recordSeconds(stage))} of it`}
        </button>
      </div>
      {error && (
        <p role="alert" className="mt-2 text-oxide">
          {problemOf(error).message}
        </p>
      )}
      {data && !data.record && (
        <p className="mt-2 text-lg">
          Its instrument keeps no records. With a hand-held scope: take a reading in between, and
          type rate, peak and mean.
        </p>
      )}
      {data?.record && <Record record={data.record} />}
    </section>
  );
}

function Record({ record }: { record: PulseRecord }) {
  const figures = waveformFigures(record);
  const finding = waveformFinding(figures, record.stage);
  const good = finding === 'as-ordered' || finding === 'held-lower';
  const n = record.currentA.length;
  const most = 1.15 * Math.max(record.stage.currentA, ...record.currentA, 0.1);
  const line = (amps: readonly number[]): string =>
    amps
      .map((a, i) => `${((WIDTH * i) / n).toFixed(1)},${(HEIGHT * (1 - a / most)).toFixed(1)}`)
      .join(' ');
  const ordered = orderedShape(record.stage, record.seconds, n, firstBurstS(record, figures.peakA));
  const period = figures.perSecond && 1 / figures.perSecond;
  const rows: [string, string][] = [
    [
      'Rate',
      figures.perSecond === null
        ? 'none'
        : figures.perSecond >= 1
          ? `${figures.perSecond.toFixed(1)} a second`
          : `one each ${(period ?? 0).toFixed(1)} s`,
    ],
    ['Duty', figures.duty === null ? '–' : `${(100 * figures.duty).toFixed(0)} %`],
    ['Mean', `${figures.meanA.toFixed(2)} A`],
    ['Peak', `${figures.peakA.toFixed(2)} A`],
    ['RMS', `${figures.rmsA.toFixed(2)} A`],
  ];
  return (
    <>
      <p
        className={`mt-2 rounded-md px-4 py-2 text-lg ${good ? 'bg-moss-pale' : 'border-l-8 border-ochre bg-ochre-pale'}`}
      >
        {good ? '✓ ' : '! '}
        {WAVEFORM_FINDINGS[finding]}
      </p>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-2 w-full border-b border-l border-ink"
        role="img"
        aria-label={`Current over ${record.seconds.toFixed(record.seconds < 1 ? 3 : 0)} s: ${rows.map(([k, v]) => `${k.toLowerCase()} ${v}`).join(', ')}`}
      >
        <polygon
          points={`0,${HEIGHT} ${line(ordered)} ${WIDTH},${HEIGHT}`}
          className="fill-slate-pale"
        />
        <polyline
          points={line(record.currentA)}
          className="fill-none stroke-ember"
          strokeWidth="2"
        />
      </svg>
      <p className="text-[15px] text-soft">
        {n.toLocaleString('en-GB')} points over {formatDuration(record.seconds)}, up to{' '}
        {most.toFixed(1)} A. Behind it: what was ordered.
      </p>
      <dl className="mt-1 flex flex-wrap gap-x-8 gap-y-1">
        {rows.map(([label, value]) => (
          <div key={label}>
            <dt className="label">{label}</dt>
            <dd className="font-label text-xl font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}
