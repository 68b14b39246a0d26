import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { notice } from '../../line/notices.ts';
import type { Problem } from '../../../contract/wire.ts';
import { OpenJobButton } from '../../inputs/OpenJob.tsx';
import { firstOut, shelfHands } from '../../../core/storage/stock.ts';
import { schoolOf } from '../../../core/house/schools.ts';
import {
  formatDay,
  formatDateOf,
  type WallStyle,
  formatTemperature,
} from '../../../core/quantities/format.ts';
import { ask, pathTo, problemOf } from '../../line/api.ts';
import { useMinute } from '../../line/benchClock.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useHolds, useRules, useShelf } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { type ShelfStanding, useStandings } from '../../line/standings.ts';
import { PlaceButton } from '../../inputs/PlaceDialog.tsx';

const DAY_MS = 86_400_000;

/** Wet stock: first in first out, what each holds today by forecast, and what it wants when. */
export function Shelf() {
  const now = useMinute();
  const rules = useRules();
  const { error, refetch } = useShelf();
  const standings = useStandings();
  const holds = useHolds().data?.holds ?? [];
  const [model, setModel] = useState('');
  const [picking, setPicking] = useState<ShelfStanding | null>(null);
  if (error && !standings) return <NotFetched error={error} again={() => void refetch()} />;
  if (!standings) return <Loading />;
  const { check, charge } = shelfHands(standings);
  const models = [...new Set(standings.map((s) => s.item.modelCode))].sort();
  const held = new Map(
    holds.filter((h) => h.what === 'model' && h.liftedAt === null).map((h) => [h.code, h.why]),
  );
  const shown = standings.filter((s) => model === '' || s.item.modelCode === model);
  const firsts = new Set(models.flatMap((m) => firstOut(standings, m)?.item.batteryId ?? []));
  const { school } = schoolOf('storageRecharge', rules.schools);

  if (standings.length === 0)
    return (
      <div className="p-6">
        <h1 className="sr-only">Shelf</h1>
        <Empty title="Nothing stands on the shelf">
          <p>
            A battery comes here when its job ends with “Onto the shelf”, or with an import that
            tells its rest voltage. From then on its charge is forecast, and its checks and
            recharges are called for.
          </p>
          <Link to="/records/import" className="act">
            Import a stock list
          </Link>
        </Empty>
      </div>
    );
  return (
    <div className="p-4 md:p-6">
      <div className="mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-3">
        <h1 className="text-3xl">
          Shelf{' '}
          <span className="font-medium text-soft">
            {standings.length} {standings.length === 1 ? 'battery' : 'batteries'} at about{' '}
            {formatTemperature(rules.shelfC, rules.temperatureUnit)}
          </span>
        </h1>
        <div className="flex flex-wrap gap-2">
          <Link
            to="/shelf/round"
            className={check.length + charge.length > 0 ? 'act' : 'act-quiet'}
          >
            Walk the shelf{check.length > 0 && `: ${check.length} to read`}
          </Link>
          <Link to="/shelf/sets" className="act-quiet">
            Sets
          </Link>
          <a href={pathTo('shelfPdf')} className="act-quiet">
            List, PDF
          </a>
          <a href={pathTo('shelfCsv')} className="act-quiet">
            CSV
          </a>
          <a
            href={pathTo('tagSheetPdf', {
              query: { tags: shown.map((s) => s.item.tag).join(',') },
            })}
            className="act-quiet"
          >
            Tags
          </a>
        </div>
      </div>
      <p className="mb-3 max-w-[90ch] text-soft">
        Recharge by the house rule “{school.name}”: {school.plain} Volts and charge are forecasts
        from each battery’s own readings, with the middle 80 % of what is believed.
      </p>
      {charge.length > 0 && (
        <p className="mb-3 rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2 text-lg">
          {charge.length === 1 ? 'One battery needs' : `${charge.length} batteries need`} charging:{' '}
          {charge.map((s) => s.item.tag).join(', ')}.
        </p>
      )}
      <label className="mb-2 block w-60">
        <span className="label">Model</span>
        <select className="field" value={model} onChange={(e) => setModel(e.target.value)}>
          <option value="">All of them</option>
          {models.map((m) => (
            <option key={m}>{m}</option>
          ))}
        </select>
      </label>
      <div className="relative">
        <table className="w-full text-left text-lg">
          <thead className="label border-b-2 border-ink max-sm:sr-only">
            <tr>
              <th className="py-1 font-medium">Tag</th>
              <th className="font-medium max-sm:hidden">Place</th>
              <th className="font-medium max-lg:hidden">Model</th>
              <th className="pr-4 font-medium whitespace-nowrap max-lg:hidden">On shelf</th>
              <th className="font-medium">Holds today</th>
              <th className="font-medium max-lg:hidden">Volts today</th>
              <th className="font-medium max-2xl:hidden">Last read</th>
              <th className="font-medium">Recharge</th>
              <th className="font-medium">
                <span className="sr-only">Acts</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((s) => (
              <tr
                key={s.item.batteryId}
                className={`border-b border-line max-sm:grid max-sm:grid-cols-[auto_1fr_auto] max-sm:items-center max-sm:px-2 max-sm:py-2 ${s.wants === 'charge' ? 'bg-ochre-pale/45' : ''}`}
              >
                <td className="pr-4 whitespace-nowrap sm:h-14 max-sm:col-span-2">
                  <Link
                    to={`/batteries/${s.item.tag}`}
                    className="font-label text-xl font-semibold"
                  >
                    {s.item.tag}
                  </Link>
                  {firsts.has(s.item.batteryId) && (
                    <span className="ml-2 rounded-sm bg-moss-pale px-1.5 text-sm">first out</span>
                  )}
                </td>
                <td className="pr-4 whitespace-nowrap max-sm:hidden">
                  <PlaceButton tag={s.item.tag} place={s.item.place} />
                </td>
                <td className="pr-4 whitespace-nowrap max-lg:hidden">
                  {s.item.modelCode}
                  {held.has(s.item.modelCode) && (
                    <span
                      className="ml-2 rounded bg-oxide-pale px-2 text-base text-oxide"
                      title={held.get(s.item.modelCode)}
                    >
                      ✕ on hold
                    </span>
                  )}
                </td>
                <td className="pr-4 whitespace-nowrap text-soft max-lg:hidden">
                  {Math.floor((now - s.item.since) / DAY_MS)} d
                </td>
                <td className="pr-4">
                  <ChargeBar standing={s} />
                </td>
                <td className="pr-4 whitespace-nowrap max-lg:hidden">
                  <b className="font-label text-xl font-semibold">
                    {s.forecast.volts.mid.toFixed(2)}
                  </b>{' '}
                  <span className="text-[15px] text-soft">
                    V
                    <span className="max-2xl:hidden">
                      , {s.forecast.volts.low.toFixed(2)}–{s.forecast.volts.high.toFixed(2)}
                    </span>
                  </span>
                </td>
                <td className="pr-4 whitespace-nowrap text-soft max-2xl:hidden">
                  {s.item.readings.at(-1)?.voltageV.toFixed(2)} V,{' '}
                  {formatDateOf(s.item.readings.at(-1)?.at ?? 0, rules)}
                </td>
                <td className="pr-4 max-sm:col-span-2 max-sm:pr-0">
                  <Due standing={s} now={now} wall={rules} />
                </td>
                <td className="text-right whitespace-nowrap max-sm:col-start-3 max-sm:row-start-1">
                  {s.item.jobId ? (
                    <Link to={`/jobs/${s.item.jobId}`} className="wordlink min-h-11">
                      on the bench
                    </Link>
                  ) : (
                    <span className="inline-flex gap-2">
                      <OpenJobButton
                        tag={s.item.tag}
                        purpose="recharge"
                        quiet={s.wants !== 'charge'}
                      />
                      {s.wants !== 'charge' && (
                        <button
                          type="button"
                          className="act-quiet px-3!"
                          onClick={() => setPicking(s)}
                        >
                          Take
                        </button>
                      )}
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {picking && <PickDialog standing={picking} onClose={() => setPicking(null)} />}
    </div>
  );
}

/** The charge by forecast: a bar to the middle, its band, and the number. */
function ChargeBar({ standing: { forecast } }: { standing: ShelfStanding }) {
  const { low, mid, high } = forecast.percent;
  return (
    <span className="flex items-center gap-2.5 whitespace-nowrap">
      <svg width="92" height="18" viewBox="0 0 92 18" aria-hidden className="max-lg:hidden">
        <rect
          x="0.5"
          y="4.5"
          width="91"
          height="9"
          fill="var(--color-sheet)"
          stroke="var(--color-line)"
        />
        <rect
          x="0.5"
          y="4.5"
          width={0.91 * mid}
          height="9"
          fill={mid < 60 ? 'var(--color-ochre)' : 'var(--color-moss)'}
        />
        <path
          d={`M${0.5 + 0.91 * low} 9H${0.5 + 0.91 * high}M${0.5 + 0.91 * low} 2v14M${0.5 + 0.91 * high} 2v14`}
          stroke="var(--color-ink)"
          strokeWidth="1.5"
        />
      </svg>
      <span className="text-[15px] text-soft sm:hidden">Holds</span>
      <b className="font-label text-xl font-semibold">{mid.toFixed(0)} %</b>
      <span className="text-[15px] text-soft max-lg:hidden">
        {low.toFixed(0)}–{high.toFixed(0)}
      </span>
    </span>
  );
}

function Due({ standing, now, wall }: { standing: ShelfStanding; now: number; wall: WallStyle }) {
  if (standing.wants === 'charge')
    return (
      <span className="leading-tight">
        <b className="text-oxide">✕ now</b>
        <span className="block text-[15px] text-soft">{standing.because}</span>
      </span>
    );
  const far = !Number.isFinite(standing.rechargeAt);
  return (
    <span className="leading-tight">
      <span className="text-soft sm:hidden">Recharge </span>
      {far ? 'not in sight' : formatDay(standing.rechargeAt, wall)}
      <span className="block text-[15px] text-soft">
        {standing.wants === 'check'
          ? '◆ read it first'
          : `read by ${standing.checkAt <= now ? 'now' : formatDay(standing.checkAt, wall)}`}
      </span>
    </span>
  );
}

/** Off the shelf for somebody. Another than the one that has stood longest wants a reason. */
function PickDialog({ standing, onClose }: { standing: ShelfStanding; onClose: () => void }) {
  const { sign } = useSigning();
  const [owner, setOwner] = useState('');
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState<Problem | null>(null);
  const { tag } = standing.item;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const by = await sign();
    if (!by) return;
    try {
      await ask('pickFromShelf', {
        params: { tag },
        body: {
          commandId: newId(),
          by,
          owner: owner.trim(),
          ...(reason.trim() ? { reason: reason.trim() } : {}),
        },
      });
      await queryClient.invalidateQueries({ queryKey: ['shelf'] });
      notice.success(`${tag} is taken for ${owner.trim()}.`);
      onClose();
    } catch (error) {
      setProblem(problemOf(error));
    }
  };
  return (
    <OpenDialog
      onClose={onClose}
      title={`Take ${tag} off the shelf`}
      description={`By forecast it holds ${standing.forecast.percent.mid.toFixed(0)} %. Measure it before it goes.`}
    >
      <form onSubmit={(e) => void submit(e)} className="grid gap-3">
        <Labelled label="For whom, or which machine" message={problem?.fields['owner']}>
          <input
            className="field"
            autoFocus
            autoComplete="off"
            value={owner}
            onChange={(e) => setOwner(e.target.value)}
          />
        </Labelled>
        {problem && (
          <p
            role="alert"
            className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg"
          >
            {problem.message}
          </p>
        )}
        {problem?.fields['reason'] && (
          <Labelled label="Why this one">
            <input className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
          </Labelled>
        )}
        <div className="mt-2 flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act" disabled={owner.trim() === ''}>
            Take it
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}
