import { useState } from 'react';
import { Link } from 'react-router';
import { formatDay } from '../../../core/quantities/format.ts';
import { pathTo } from '../../line/api.ts';
import { useNow } from '../../line/benchClock.ts';
import { useDayPlan, useRules } from '../../line/queries.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { useWidth } from '../../drawings/useWidth.ts';
import { MoveDialog, type Moving } from './MoveDialog.tsx';
import { Loads } from './Loads.tsx';
import { axisOf, type ViewKey, VIEWS } from './planAxis.ts';
import { BatteryRows, PeopleRows, PostRows, ToolRows } from './PlanRows.tsx';
import { BeforeLeaving, Moved, Promises, promisesSafe, Unplanned } from './PlanSide.tsx';
import { TasksByPerson } from './TasksByPerson.tsx';
import { type SecondPlan, SecondPlanBanner, useSuppose, WhatIfDialog } from './WhatIf.tsx';

/** What the rows are. */
const LAYOUTS = [
  { key: 'places', name: 'By place' },
  { key: 'batteries', name: 'By battery' },
] as const;
type LayoutKey = (typeof LAYOUTS)[number]['key'];
/** Names of the rows, px. */
const NAMES_PX = 148;

/** Places, chargers and people over the next days: what will be, and the chance of each promise. */
export function DayPlan() {
  const rules = useRules();
  const now = useNow();
  const { data, error, refetch } = useDayPlan();
  const [view, setView] = useState<ViewKey>('day');
  const [ref, width] = useWidth();
  const [moving, setMoving] = useState<Moving | null>(null);
  const [layout, setLayout] = useState<LayoutKey>('places');
  const [asking, setAsking] = useState(false);
  const [second, setSecond] = useState<SecondPlan | null>(null);
  const suppose = useSuppose(setSecond);
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  const { plan } = data;
  if (!plan)
    return (
      <Empty title="No day plan just now">
        <p>The planner could not make one. The to-do list on the Bench stands as it was.</p>
        <button type="button" className="act-quiet" onClick={() => void refetch()}>
          Plan again
        </button>
      </Empty>
    );
  if (plan.works.length === 0)
    return (
      <Empty title="Nothing to plan">
        <p>Take a battery in, and its charge, its readings and its promise are planned here.</p>
      </Empty>
    );
  const shown = second?.plan ?? plan;
  const nowMin = Math.max(0, (now - shown.from) / 60_000);
  const { safe, all } = promisesSafe(plan);
  const { hours } = VIEWS.find((v) => v.key === view) ?? VIEWS[0];
  const axis = axisOf(shown, hours, Math.max(0, width - NAMES_PX), rules);
  const rows = { plan: shown, axis, wall: rules, nowMin };
  return (
    <div className="xl:grid xl:grid-cols-[minmax(0,1fr)_20rem]">
      <div className="p-4 md:p-5">
        <header className="flex flex-wrap items-baseline gap-x-4 gap-y-2 pb-2">
          <h1 className="text-3xl max-sm:grow">Day plan</h1>
          <p className="flex-1 text-lg text-soft max-sm:order-last max-sm:basis-full">
            {formatDay(now, rules)}
            {all > 0 && `, ${safe} of ${all} promises safe`}
            {data.standing === 'first' && ', still being improved'}
            {data.standing === 'quick' && ', made in haste: the planner does not answer'}
          </p>
          <a className="wordlink min-h-11 content-center" href={pathTo('dayPlanPdf', {})}>
            Print the day
          </a>
          <Link className="wordlink min-h-11 content-center max-md:hidden" to="/wall">
            For the wall
          </Link>
          <button type="button" className="act-quiet" onClick={() => setAsking(true)}>
            What if …
          </button>
          <div className="hidden w-full flex-wrap justify-between gap-x-6 md:flex">
            <OneOf label="How far ahead" value={view} options={VIEWS} onChange={setView} />
            <OneOf label="Rows" value={layout} options={LAYOUTS} onChange={setLayout} />
          </div>
        </header>
        {second && (
          <SecondPlanBanner
            first={plan}
            second={second}
            wall={rules}
            onBack={() => setSecond(null)}
          />
        )}
        <div ref={ref} className="hidden md:block">
          {width > 0 && (
            <>
              <Hours axis={axis} />
              {layout === 'places' ? (
                <>
                  <PostRows {...rows} onMove={second ? null : setMoving} />
                  <ToolRows {...rows} />
                  <PeopleRows {...rows} />
                  <Loads plan={shown} axis={axis} nowMin={nowMin} />
                  <Legend />
                </>
              ) : (
                <BatteryRows {...rows} />
              )}
            </>
          )}
        </div>
        <div className="md:hidden">
          <TasksByPerson plan={shown} wall={rules} now={now} />
        </div>
      </div>
      {moving && (
        <MoveDialog
          moving={moving}
          plan={plan}
          now={now}
          wall={rules}
          onClose={() => setMoving(null)}
        />
      )}
      {asking && (
        <WhatIfDialog
          plan={plan}
          now={now}
          wall={rules}
          onClose={() => setAsking(false)}
          onTried={(tried) => {
            setSecond(tried);
            setAsking(false);
          }}
        />
      )}
      <aside className="grid content-start gap-5 border-line bg-sheet p-4 md:p-5 xl:border-l">
        <Promises
          plan={shown}
          wall={rules}
          onSuppose={second ? null : (supposed) => suppose.mutate(supposed)}
        />
        <Unplanned plan={shown} />
        <BeforeLeaving plan={shown} wall={rules} />
        {!second && <Moved plan={plan} wall={rules} />}
      </aside>
    </div>
  );
}

interface OneOfProps<K extends string> {
  label: string;
  value: K;
  options: readonly { key: K; name: string }[];
  onChange: (key: K) => void;
}

/** One of a few ways to look, side by side. */
function OneOf<K extends string>({ label, value, options, onChange }: OneOfProps<K>) {
  return (
    <div role="group" aria-label={label} className="flex gap-1">
      {options.map(({ key, name }) => (
        <button
          key={key}
          type="button"
          aria-pressed={key === value}
          className="min-h-11 px-3 font-label text-lg font-medium aria-pressed:border-b-4 aria-pressed:border-ink aria-pressed:font-semibold"
          onClick={() => onChange(key)}
        >
          {name}
        </button>
      ))}
    </div>
  );
}

function Hours({ axis }: { axis: ReturnType<typeof axisOf> }) {
  return (
    <div className="sticky top-15 z-10 flex justify-end bg-paper" aria-hidden>
      <svg width={axis.width} height={22} className="block overflow-visible">
        {axis.ticks.map((t) => (
          <text
            key={t.at}
            x={axis.x(t.at)}
            y={16}
            fontSize={15}
            fontWeight={t.day ? 600 : 500}
            className="font-label"
            textAnchor="middle"
            fill={t.day ? 'var(--color-ink)' : 'var(--color-soft)'}
          >
            {t.label}
          </text>
        ))}
      </svg>
    </div>
  );
}

function Legend() {
  const mark = 'inline-block h-4 w-7 border align-[-2px]';
  return (
    <p className="flex flex-wrap gap-x-5 gap-y-1 pt-4 text-[15px] text-soft">
      <span>
        <i className={`${mark} border-ember bg-ember`} /> current flows
      </span>
      <span>
        <i className={`${mark} border-ember bg-ember-pale`} /> will flow
      </span>
      <span>
        <i
          className={`${mark} border-moss bg-[repeating-linear-gradient(45deg,#b9c8a9_0_2px,transparent_2px_6px)]`}
        />{' '}
        full, until taken off
      </span>
      <span>
        <i className="inline-block w-7 border-t-2 border-ember-ink align-[4px]" /> may be over, 8 in
        10
      </span>
      <span>
        <i className={`${mark} border-line bg-hair`} /> nobody there
      </span>
    </p>
  );
}
