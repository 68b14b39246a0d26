import { useState } from 'react';
import { Link } from 'react-router';
import { awayOn, CHARGER_KIND_WORDS, type ShopCharger } from '../../../core/chargers/charger.ts';
import { STANDING_WORDS } from '../../../core/chargers/fitWords.ts';
import { formatMoment, type WallStyle } from '../../../core/quantities/format.ts';
import { type ChargeNow, type ChargerNow, wallNow } from '../../../core/watch/chargersNow.ts';
import { type BenchItem, useBenchMoment } from '../../line/benchItems.ts';
import { useChargers, useRules } from '../../line/queries.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { ChargerDialog } from './ChargerDialog.tsx';
import { onTheWall } from '../../../core/quantities/zonedTime.ts';
import { awayWords } from '../../parts/DaysAway.tsx';
import { useSaveCharger } from '../../line/saveCharger.ts';

/** The wall of chargers as it is: what is on which battery, since when, and what wants a look. */
export function Chargers() {
  const rules = useRules();
  const { data, error, refetch } = useChargers();
  const moment = useBenchMoment();
  const [shown, setShown] = useState<ShopCharger | 'new' | null>(null);
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data || !moment) return <Loading />;
  const { now } = moment;
  const { chargers, unsaid } = wallNow(data.chargers, rules.instruments, moment.open, now);
  const busy = chargers.filter((c) => c.on.length > 0).length;
  const dialog = shown && (
    <ChargerDialog charger={shown === 'new' ? null : shown} onClose={() => setShown(null)} />
  );
  if (chargers.length === 0)
    return (
      <div className="p-6">
        <h1 className="sr-only">Chargers</h1>
        <Empty title="No charger yet">
          <p>
            Write down the chargers on your wall: a minute each, from a template. From then on each
            charge says which of them fits, how to set it, and how long it takes.
          </p>
          <button type="button" className="act" onClick={() => setShown('new')}>
            Add a charger
          </button>
        </Empty>
        {unsaid.length > 0 && <Unsaid charges={unsaid} now={now} wall={rules} />}
        {dialog}
      </div>
    );
  return (
    <div className="grid max-w-6xl gap-4 p-4 md:p-6">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-3xl">Chargers</h1>
        <p className="flex-1 text-lg text-soft">
          {busy} of {chargers.length} in use
        </p>
        <button type="button" className="act-quiet" onClick={() => setShown('new')}>
          Add a charger
        </button>
      </header>
      <ul className="gap-3 md:columns-2 xl:columns-3">
        {chargers.map((entry) => (
          <ChargerCard
            key={entry.of === 'charger' ? entry.charger.id : entry.instrument.id}
            entry={entry}
            now={now}
            wall={rules}
            onChange={() => entry.of === 'charger' && setShown(entry.charger)}
          />
        ))}
      </ul>
      {unsaid.length > 0 && <Unsaid charges={unsaid} now={now} wall={rules} />}
      {dialog}
    </div>
  );
}

interface CardProps {
  entry: ChargerNow<BenchItem>;
  now: number;
  wall: WallStyle;
  onChange: () => void;
}

function ChargerCard({ entry, now, wall, onChange }: CardProps) {
  const due = entry.on.some((c) => c.nextLookAt !== null && c.nextLookAt <= now);
  const away = entry.of === 'charger' && entry.charger.standing !== 'ready';
  const today = onTheWall(now, wall.timeZone).date;
  const awayToday = entry.of === 'charger' && !away && awayOn(entry.charger, today) !== null;
  const edge = due
    ? 'border-l-ochre bg-ochre-pale/45'
    : entry.on.length > 0
      ? 'border-l-ember bg-sheet'
      : away || awayToday
        ? 'border-l-oxide bg-hair'
        : 'border-l-moss bg-sheet';
  return (
    <li
      className={`mb-3 grid break-inside-avoid gap-1 rounded-md border border-l-8 border-line p-4 ${edge}`}
    >
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="min-w-0 text-2xl break-words">
          {entry.of === 'charger' ? entry.charger.name : entry.instrument.name}
        </h2>
        <span className="text-right text-[15px] text-soft">{kindWords(entry)}</span>
      </div>
      {entry.of === 'charger' && entry.charger.where && (
        <p className="text-[15px] text-soft">{entry.charger.where}</p>
      )}
      {entry.on.map((c) => (
        <OnIt key={c.item.wire.id} now={now} wall={wall} {...c} />
      ))}
      {entry.of === 'charger' && <NextAway charger={entry.charger} now={now} wall={wall} />}
      {entry.on.length === 0 && !awayToday && (
        <p className="text-lg">
          {entry.of === 'charger' && away ? (
            <>
              <b>✕ {STANDING_WORDS[entry.charger.standing]}</b> since{' '}
              {formatMoment(entry.charger.standingSince, now, wall)}
            </>
          ) : (
            <>○ Free</>
          )}
        </p>
      )}
      {entry.of === 'charger' && <Acts charger={entry.charger} onChange={onChange} />}
    </li>
  );
}

/** The days on which it is away next, or now. */
function NextAway({ charger, now, wall }: { charger: ShopCharger; now: number; wall: WallStyle }) {
  const today = onTheWall(now, wall.timeZone).date;
  const [next] = charger.outages
    .filter((o) => o.to >= today)
    .toSorted((a, b) => a.from.localeCompare(b.from));
  if (!next) return null;
  return (
    <p className="text-lg">
      <b>{next.from <= today ? '✕ Away' : 'Away'}</b> {awayWords(next, wall)}
      {next.why && `: ${next.why}`}
    </p>
  );
}

function Acts({ charger, onChange }: { charger: ShopCharger; onChange: () => void }) {
  const { save, problem, saving } = useSaveCharger();
  const { id, standingSince: _, ...facts } = charger;
  const ready = charger.standing === 'ready';
  return (
    <div className="-mb-2 flex flex-wrap gap-x-5">
      <button type="button" className="wordlink min-h-11 text-soft" onClick={onChange}>
        Change<span className="sr-only"> {charger.name}</span>
      </button>
      <button
        type="button"
        className="wordlink min-h-11 text-soft"
        disabled={saving}
        onClick={() => void save(id, { ...facts, standing: ready ? 'out-of-order' : 'ready' })}
      >
        {ready ? 'Out of order' : 'Ready again'}
        <span className="sr-only"> {charger.name}</span>
      </button>
      {problem && (
        <p role="alert" className="w-full text-oxide">
          {problem.message}
        </p>
      )}
    </div>
  );
}

function OnIt({
  item,
  charge,
  since,
  nextLookAt,
  endsAt,
  now,
  wall,
}: ChargeNow<BenchItem> & { now: number; wall: WallStyle }) {
  const set = [charge.charger?.setting, charge.charger?.program].filter(Boolean).join(', ');
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3">
      <p className="text-lg">
        <Link to={`/jobs/${item.wire.id}`} className="wordlink inline-flex min-h-11 items-center">
          <b className="font-label text-xl font-semibold">{item.wire.battery.tag}</b>
        </Link>
        {set && <span className="ml-2 text-soft">on {set}</span>}
        <span className="block text-[15px] text-soft">since {formatMoment(since, now, wall)}</span>
      </p>
      <p className="text-right text-lg">
        <span className="flex min-h-11 items-center justify-end">
          {charge.mode === 'paused'
            ? '❚❚ Paused'
            : charge.mode === 'halted'
              ? '✕ Stopped'
              : nextLookAt === null
                ? '● Charging'
                : nextLookAt <= now
                  ? '◆ Read it now'
                  : `Read at ${formatMoment(nextLookAt, now, wall)}`}
        </span>
        {endsAt !== null && (
          <span className="block text-[15px] text-soft">
            ends about {formatMoment(endsAt, now, wall)}
          </span>
        )}
      </p>
    </div>
  );
}

/** Charges begun before their charger was written down, or on one that is not the shop's. */
function Unsaid({
  charges,
  now,
  wall,
}: {
  charges: ChargeNow<BenchItem>[];
  now: number;
  wall: WallStyle;
}) {
  return (
    <section aria-labelledby="unsaid" className="max-w-2xl">
      <h2 id="unsaid" className="text-2xl">
        Charging, charger not written down
      </h2>
      <ul>
        {charges.map((c) => (
          <li key={c.item.wire.id} className="border-b border-line py-1">
            <OnIt now={now} wall={wall} {...c} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function kindWords(entry: ChargerNow<BenchItem>): string {
  if (entry.of === 'instrument') return 'instrument';
  const { kind, settings, range, outputs } = entry.charger;
  const amps = range ? `${range.leastA}–${range.mostA} A` : settings.map((s) => s.name).join(' / ');
  const many = outputs > 1 ? `, ${outputs} outputs` : '';
  return `${CHARGER_KIND_WORDS[kind].short}, ${amps}${many}`;
}
