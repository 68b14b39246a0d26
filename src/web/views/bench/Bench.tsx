import { useDeferredValue } from 'react';
import { Link, Navigate } from 'react-router';
import { toTheQuarter } from '../../line/benchClock.ts';
import { hasBrowser } from '../../line/device.ts';
import { useBenchMoment } from '../../line/benchItems.ts';
import type { KnownPlan } from '../../line/planned.ts';
import { useBench, useDayPlan, useHands, useRules, useShop } from '../../line/queries.ts';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { BenchRows } from './BenchRows.tsx';
import { HandsList } from './HandsList.tsx';

/** The home: every battery in process to one time axis, and beside it what needs hands. */
export function Bench() {
  const rules = useRules();
  const { data: shop } = useShop();
  const { data, error, refetch } = useBench();
  const moment = useBenchMoment();
  const hands = useHands();
  const { data: answer, isPending } = useDayPlan();
  // What it says of every battery is drawn in small pieces: nobody's typing waits for it.
  const plan = useDeferredValue<KnownPlan>(isPending ? 'awaited' : (answer?.plan ?? null));
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!moment) return <Loading />;

  // A shop that nobody leads yet begins with its set-up.
  if (shop && shop.people.length === 0) return hasBrowser && <Navigate to="/setup" replace />;

  const { items, ended, lines, order } = moment;
  // Ribbons and times are drawn to the quarter minute; what a charge reads is drawn when it comes.
  const now = toTheQuarter(moment.now);
  const drawn = { now, rules, plan };

  if (items.length === 0) {
    return (
      <div className="p-6">
        <h1 className="sr-only">Bench</h1>
        <Empty title="The bench is empty">
          <p>
            Batteries in process stand here with their clocks. Take the first one in, and its whole
            plan is worked out before anything is opened.
          </p>
          <p className="flex flex-wrap justify-center gap-3">
            {rules.setUp !== 'done' && (
              <Link to="/setup" className="act">
                Go on with the set-up
              </Link>
            )}
            <Link to="/intake" className={rules.setUp === 'done' ? 'act' : 'act-quiet'}>
              Take a battery in
            </Link>
          </p>
        </Empty>
      </div>
    );
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_312px]">
      <section aria-labelledby="rows" className="min-w-0 p-4 max-lg:order-2 md:px-5">
        <BenchRows open={order} ended={ended} hands={hands} {...drawn} />
      </section>
      <aside
        aria-labelledby="hands"
        className="border-line bg-sheet p-4 max-lg:border-b lg:sticky lg:top-15 lg:h-[calc(100dvh-60px)] lg:overflow-y-auto lg:border-l lg:px-5"
      >
        <HandsList lines={lines} {...drawn} />
      </aside>
    </div>
  );
}
