import { chanceWords } from '../../../core/quantities/chance.ts';
import { Link } from 'react-router';
import { pageOfWork } from '../../../contract/pages.ts';
import type { Supposed } from '../../../core/dayplan/suppose.ts';
import {
  leavings,
  leavingWords,
  moveWhyWords,
  LEFT_WORDS,
  SAFE,
  UNSAFE,
} from '../../../core/dayplan/planWords.ts';
import type { ToldPlan, ToldWork } from '../../../core/dayplan/told.ts';
import { formatMomentShort, type WallStyle } from '../../../core/quantities/format.ts';
import { Helps } from './Helps.tsx';

interface SideProps {
  plan: ToldPlan;
  wall: WallStyle;
}

const moment = (plan: ToldPlan, minute: number): number => plan.from + minute * 60_000;

const promised = (plan: ToldPlan): (ToldWork & { promisedAt: number })[] =>
  plan.works
    .filter((w): w is ToldWork & { promisedAt: number } => w.promisedAt !== null)
    .toSorted((a, b) => a.promisedAt - b.promisedAt);

/** How many promises are safe, of how many: for the head of the page. */
export function promisesSafe(plan: ToldPlan): { safe: number; all: number } {
  const works = promised(plan);
  return { safe: works.filter((w) => (w.kept ?? 0) >= SAFE).length, all: works.length };
}

interface PromisesProps extends SideProps {
  /** Shows a second plan; null where one is shown already. */
  onSuppose: ((supposed: Supposed) => void) | null;
}

/** Every promise with its chance, the soonest first; of those that are not safe, what would help. */
export function Promises({ plan, wall, onSuppose }: PromisesProps) {
  const works = promised(plan);
  return (
    <section>
      <h2 className="pb-1 text-2xl">Promises</h2>
      {works.length === 0 && (
        <p className="text-soft">
          Nothing is promised. Give a time at intake, and its chance stands here.
        </p>
      )}
      <ul>
        {works.map((work) => (
          <li key={work.id} className="border-b border-line">
            <Link
              to={pageOfWork(work)}
              className="flex min-h-14 items-center justify-between gap-3 py-1.5 hover:bg-hair"
            >
              <span className="min-w-0">
                <b className="block truncate font-label text-lg leading-tight">{work.whose}</b>
                <span className="block text-[15px] text-soft">
                  {work.tag} · {formatMomentShort(moment(plan, work.promisedAt), plan.from, wall)}
                  {work.ready && work.kept !== null && work.kept < SAFE && (
                    <> · ready {readyWords(plan, work.ready, wall)}</>
                  )}
                </span>
              </span>
              <span
                className={`shrink-0 text-right font-label text-xl font-semibold ${chanceColor(work.kept)}`}
              >
                {work.promisedAt < 0 ? 'past' : work.kept === null ? '–' : chanceWords(work.kept)}
              </span>
            </Link>
            {onSuppose && work.promisedAt > 0 && work.kept !== null && work.kept < SAFE && (
              <Helps plan={plan} work={work} wall={wall} onSuppose={onSuppose} />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const chanceColor = (kept: number | null): string =>
  kept === null || kept >= SAFE ? '' : kept < UNSAFE ? 'text-oxide' : 'text-ochre';

const readyWords = (
  plan: ToldPlan,
  { low, high }: { low: number; high: number },
  wall: WallStyle,
): string => {
  const [from, to] = [low, high].map((m) => formatMomentShort(moment(plan, m), plan.from, wall));
  return from === to ? `${from}` : `${from} to ${to}`;
};

/** What the shop cannot do as it stands. */
export function Unplanned({ plan }: { plan: ToldPlan }) {
  const left = plan.works.filter((w) => w.left && w.left.why !== 'beyond');
  if (left.length === 0) return null;
  return (
    <section className="border-l-4 border-oxide bg-oxide-pale p-3">
      <h2 className="text-xl">Not planned</h2>
      <ul className="grid gap-2 pt-1">
        {left.map((w) => (
          <li key={w.id}>
            <Link to={pageOfWork(w)} className="wordlink font-semibold">
              {w.tag}
            </Link>
            , {w.left?.what}: {w.left && LEFT_WORDS[w.left.why]}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What has to be done or known before the last person leaves. */
export function BeforeLeaving({ plan, wall }: SideProps) {
  const lines = leavings(plan).toSorted((a, b) => a.at - b.at);
  if (lines.length === 0) return null;
  return (
    <section>
      <h2 className="pb-1 text-2xl">Before you leave</h2>
      <ul className="grid gap-1.5">
        {lines.map((line) => (
          <li key={`${line.work.id}-${line.at}`}>
            <Link to={pageOfWork(line.work)} className="wordlink font-semibold">
              {line.work.tag}
            </Link>{' '}
            {leavingWords(plan, line, wall)}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What has changed since the plan before. */
export function Moved({ plan, wall }: SideProps) {
  if (plan.moved.length === 0) return null;
  const tag = (id: string): string => plan.works.find((w) => w.id === id)?.tag ?? '';
  return (
    <section>
      <h2 className="pb-1 text-2xl">Moved</h2>
      <ul className="grid gap-1.5">
        {plan.moved.slice(0, MOST_MOVED).map((m) => (
          <li key={`${m.workId}-${m.what}-${m.to}`}>
            <b>{tag(m.workId)}</b>, {m.what}: from{' '}
            {formatMomentShort(moment(plan, m.from), plan.from, wall)} to{' '}
            {formatMomentShort(moment(plan, m.to), plan.from, wall)}
            <span className="text-soft">: {moveWhyWords(plan, m.why)}</span>
          </li>
        ))}
      </ul>
      {plan.moved.length > MOST_MOVED && (
        <p className="text-soft">and {plan.moved.length - MOST_MOVED} more</p>
      )}
    </section>
  );
}

const MOST_MOVED = 6;
