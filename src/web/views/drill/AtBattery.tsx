import { useState } from 'react';
import { type DrillAct, HAPPENS, LOOK_MIN, TAKES } from '../../../core/drill/acts.ts';
import { looksOf, takesOf } from '../../../core/drill/canBeSeen.ts';
import type { DrillCase } from '../../../core/drill/case.ts';
import { LOOK_WORDS, shownWords } from '../../../core/drill/words.ts';
import { formatClock, formatDuration } from '../../../core/quantities/format.ts';
import type { DrillBench } from '../../../core/drill/drillBench.ts';
import { LookDrawing } from '../../drawings/LookDrawing.tsx';
import { problemOf } from '../../line/api.ts';
import { IN_USE } from '../../parts/DialogFrame.tsx';
import { useRules, useSay } from '../../line/queries.ts';
import { doAct, useCase } from '../../sandbox/caseAtHand.ts';

type Tab = 'look' | 'measure' | 'wait';
const TABS: readonly (readonly [Tab, string])[] = [
  ['look', 'Look'],
  ['measure', 'Measure'],
  ['wait', 'Let time pass'],
];
const MINUTE_S = 60;
const HOUR_S = 3600;
const DAY_S = 24 * HOUR_S;
/** Somebody who waits for something to happen gives up after so long, s. */
const MOST_WAIT_S = 3 * DAY_S;
const SHOWN = 6;

/** Hands, eyes, instruments and the clock of a case. What they show is read here and entered in the job’s own fields. */
export function AtBattery() {
  const { drillCase, bench } = useCase();
  const [tab, setTab] = useState<Tab | null>(() => (innerWidth < 768 ? null : 'look'));
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const act = async (what: DrillAct): Promise<void> => {
    setBusy(true);
    setFault(null);
    try {
      await doAct(what);
    } catch (error) {
      setFault(problemOf(error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <aside
      aria-label="At the battery"
      {...IN_USE}
      className="no-print fixed inset-x-0 bottom-0 z-20 grid max-h-[70dvh] gap-x-6 gap-y-2 overflow-y-auto border-t-4 border-slate bg-sheet px-3 py-2.5 md:grid-cols-[minmax(0,1fr)_minmax(0,26rem)] md:px-5"
    >
      <div className="min-w-0">
        <div role="group" aria-label="What to do at the battery" className="mb-2 flex gap-1">
          {TABS.map(([key, name]) => (
            <button
              key={key}
              type="button"
              aria-pressed={tab === key}
              onClick={() => setTab(tab === key && innerWidth < 768 ? null : key)}
              className={`min-h-11 rounded-t-md border-b-4 px-3 font-label text-lg font-semibold ${tab === key ? 'border-ink' : 'border-transparent text-soft hover:text-ink'}`}
            >
              {name}
            </button>
          ))}
        </div>
        <div className="flex flex-wrap gap-2">
          {tab === 'look' && <Looks drillCase={drillCase} bench={bench} act={act} busy={busy} />}
          {tab === 'measure' && <Measures drillCase={drillCase} act={act} busy={busy} />}
          {tab === 'wait' && <Waits bench={bench} act={act} busy={busy} />}
        </div>
        {fault && (
          <p role="alert" className="mt-2 text-oxide">
            {fault}
          </p>
        )}
      </div>
      <Seen bench={bench} few={tab !== null} />
    </aside>
  );
}

interface Hands {
  act: (what: DrillAct) => Promise<void>;
  busy: boolean;
}

function Looks({
  drillCase,
  bench,
  act,
  busy,
}: Hands & { drillCase: DrillCase; bench: DrillBench }) {
  // A tube can be tapped once somebody has seen that it stands still.
  const seen = bench.shown.findLast(
    (s) => s.shown.of === 'look' && s.shown.what === 'tubes',
  )?.shown;
  const still = seen?.of === 'look' && !seen.good ? [...bench.world.stillTubes] : [];
  return (
    <>
      {looksOf(drillCase).map((what) => (
        <button
          key={what}
          type="button"
          className="act-quiet"
          disabled={busy}
          title={`${LOOK_MIN} min`}
          onClick={() => void act({ do: 'look', what })}
        >
          {LOOK_WORDS[what]}
        </button>
      ))}
      {still.map((tube) => (
        <button
          key={tube}
          type="button"
          className="act"
          disabled={busy}
          onClick={() => void act({ do: 'tap', tube })}
        >
          Tap tube {tube + 1}
        </button>
      ))}
    </>
  );
}

function Measures({ drillCase, act, busy }: Hands & { drillCase: DrillCase }) {
  return takesOf(drillCase).map((take) => (
    <button
      key={take}
      type="button"
      className="act-quiet min-h-13!"
      disabled={busy}
      onClick={() => void act({ do: 'take', take })}
    >
      <span className="text-left leading-tight">
        {TAKES[take].name}
        <span className="block text-[15px] font-normal text-soft">
          {TAKES[take].tool}, {TAKES[take].minutes} min
        </span>
      </span>
    </button>
  ));
}

function Waits({ bench, act, busy }: Hands & { bench: DrillBench }) {
  const { dueInS: due } = bench;
  const wait = (seconds: number, alert: boolean): void => void act({ do: 'wait', seconds, alert });
  if (bench.closedForS > 0)
    return (
      <>
        <p className="w-full text-lg">The shop is closed; nobody is at the battery.</p>
        <button
          type="button"
          className="act"
          disabled={busy}
          onClick={() => wait(bench.closedForS, false)}
        >
          Until it opens: {formatDuration(bench.closedForS)}
        </button>
      </>
    );
  return (
    <>
      {due !== null && (
        <button type="button" className="act" disabled={busy} onClick={() => wait(due, false)}>
          Until it is due: {formatDuration(due)}
        </button>
      )}
      <button
        type="button"
        className="act-quiet"
        disabled={busy}
        onClick={() => wait(MOST_WAIT_S, true)}
      >
        Until something happens
      </button>
      {(
        [
          ['5 min', 5 * MINUTE_S],
          ['30 min', 30 * MINUTE_S],
          ['1 h', HOUR_S],
          ['6 h', 6 * HOUR_S],
          ['1 day', DAY_S],
        ] as const
      ).map(([name, seconds]) => (
        <button
          key={name}
          type="button"
          className="act-quiet"
          disabled={busy}
          onClick={() => wait(seconds, false)}
        >
          {name}
        </button>
      ))}
    </>
  );
}

/** What was shown and what happened, the newest first. */
function Seen({ bench, few }: { bench: DrillBench; few: boolean }) {
  const rules = useRules();
  const say = useSay();
  const lines = [
    ...bench.shown.map(({ at, shown }) => ({
      at,
      name: shown.of === 'look' ? LOOK_WORDS[shown.what] : TAKES[shown.take].name,
      text: shownWords(shown),
      loud: shown.of === 'look' && !shown.good,
    })),
    ...bench.happened.map(({ at, what }) => ({ at, name: '', text: HAPPENS[what], loud: true })),
  ]
    .toSorted((a, b) => b.at - a.at)
    .slice(0, SHOWN);
  const newest = bench.shown.at(-1);
  const look =
    newest?.shown.of === 'look' && newest.at === lines[0]?.at && lines[0].name !== ''
      ? newest.shown
      : null;
  return (
    <section
      aria-label="What you have seen"
      aria-live="polite"
      tabIndex={0}
      className={`min-w-0 overflow-y-auto md:max-h-36 md:border-l md:border-line md:pl-4 ${few ? 'max-h-16' : 'max-h-28'}`}
    >
      {lines.length === 0 ? (
        <p className="text-soft">
          What you look at and measure stands here. You enter it in the fields above, as at the
          bench.
        </p>
      ) : (
        <div className="flex items-start gap-3">
          <ol className="grid min-w-0 flex-1 gap-1">
            {lines.map(({ at, name, text, loud }, i) => (
              <li key={`${at} ${name} ${text}`} className={i === 0 ? 'text-lg' : 'text-soft'}>
                <span className="mr-2 text-[15px] text-soft">{formatClock(at, rules)}</span>
                {name && <span className="mr-1.5">{name}:</span>}
                <b className={`font-semibold ${loud ? 'text-oxide' : 'text-ink'}`}>{say(text)}</b>
              </li>
            ))}
          </ol>
          {look && <LookDrawing what={look.what} good={look.good} cells={look.cells} />}
        </div>
      )}
    </section>
  );
}
