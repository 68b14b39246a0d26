import { useCharge } from '../../line/queries.ts';
import { formatDuration, formatStamp, type WallStyle } from '../../../core/quantities/format.ts';
import LiveChart from '../../drawings/LiveChart.tsx';
import { pathTo } from '../../line/api.ts';

/** A charge that an instrument ran, as it was expected and as it went. */
export function ChargeTrace({
  chargeId,
  planName,
  wall,
}: {
  chargeId: string;
  planName: string;
  wall: WallStyle;
}) {
  const { data: charge } = useCharge(chargeId);
  if (!charge) return null;
  const { run, expected } = charge;
  return (
    <section
      aria-label={`Charge by ${planName}`}
      className="mb-5 rounded-lg border border-line bg-sheet p-5"
    >
      <h2 className="text-2xl">
        {planName}
        <span className="block text-lg font-medium text-soft">
          {formatStamp(charge.startedAt, wall)}, place {charge.place}, {charge.instrument}:{' '}
          {run.ahIn.toFixed(2)} Ah and {run.whIn.toFixed(0)} Wh in {formatDuration(run.totalS)} with
          current on; {formatDuration(expected.totalH * 3600)} were expected.{' '}
          {charge.sampleCount.toLocaleString('en-GB')} samples kept.{' '}
          <a href={pathTo('samplesCsv', { params: { id: chargeId } })} className="wordlink">
            CSV
          </a>
        </span>
      </h2>
      <LiveChart charge={charge} />
    </section>
  );
}
