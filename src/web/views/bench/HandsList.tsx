import { memo, startTransition, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { GRACE_S, SOON_S, type Urgency } from '../../../core/job/hand.ts';
import type { HandLine } from '../../../core/watch/hands.ts';
import { formatDuration, formatMoment, type WallStyle } from '../../../core/quantities/format.ts';
import { shelfHands } from '../../../core/storage/stock.ts';
import { nextAt } from '../../../core/dayplan/personLines.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import type { KnownPlan } from '../../line/planned.ts';
import { useStandings } from '../../line/standings.ts';
import type { BenchItem } from '../../line/benchItems.ts';

const GROUPS: readonly { urgency: Urgency; title: string; aside: string }[] = [
  { urgency: 'overdue', title: 'Overdue', aside: `over ${formatDuration(GRACE_S)}` },
  { urgency: 'now', title: 'Now', aside: '' },
  { urgency: 'soon', title: 'Soon', aside: `next ${formatDuration(SOON_S)}` },
  { urgency: 'waiting', title: 'Waiting', aside: '' },
];

interface Props {
  lines: readonly HandLine<BenchItem>[];
  now: number;
  rules: WallStyle;
  plan: KnownPlan;
}

/** The shelf's own hands, one walk. */
function ShelfHands() {
  const standings = useStandings();
  if (!standings) return null;
  const { check, charge } = shelfHands(standings);
  if (check.length + charge.length === 0) return null;
  const words = [
    ...(charge.length > 0 ? [`${charge.length} to charge`] : []),
    ...(check.length > 0 ? [`${check.length} to read`] : []),
  ].join(', ');
  return (
    <section
      aria-label="Shelf"
      className="mb-5 flex items-center gap-3 rounded-md bg-hair px-3 py-2"
    >
      <div className="min-w-0 flex-1">
        <p className="text-[17px] leading-snug">Shelf: {words}</p>
        <p className="truncate text-[15px] text-soft">
          {[...charge, ...check].map((s) => s.item.tag).join(', ')}
        </p>
      </div>
      <Link to={check.length > 0 ? '/shelf/round' : '/shelf'} className="act-quiet shrink-0 px-3!">
        Walk
      </Link>
    </section>
  );
}

/** What needs hands, most pressing first; one walk along the bench is one line. */
export const HandsList = memo(AllHands);

function AllHands({ lines, ...drawn }: Props) {
  // The shelf's forecasts are worked out once the bench itself stands on the screen.
  const [later, setLater] = useState(false);
  useEffect(() => startTransition(() => setLater(true)), []);
  return (
    <>
      <h2 id="hands" className="mb-3 text-2xl">
        To do
      </h2>
      {lines.length === 0 && (
        <p className="text-lg text-soft">Nothing on the bench is to do now.</p>
      )}
      {GROUPS.slice(0, 2).map((group) => (
        <Group key={group.urgency} {...group} lines={lines} {...drawn} />
      ))}
      {later && <ShelfHands />}
      {GROUPS.slice(2).map((group) => (
        <Group key={group.urgency} {...group} lines={lines} {...drawn} />
      ))}
    </>
  );
}

function Group({ urgency, title, aside, lines, ...drawn }: Props & (typeof GROUPS)[number]) {
  const ofUrgency = lines.filter((l) => l.urgency === urgency);
  if (ofUrgency.length === 0) return null;
  return (
    <section className="mb-5" aria-label={title}>
      <h3
        className={`flex justify-between border-b-2 pb-1 text-lg ${urgency === 'overdue' ? 'border-oxide text-oxide' : 'border-ink'}`}
      >
        {title}
        <span className="font-medium text-soft">
          {aside || ofUrgency.reduce((sum, l) => sum + l.jobs.length, 0)}
        </span>
      </h3>
      <ul>
        {ofUrgency.map((line) => (
          <Line key={`${line.jobs[0]?.wire.id}${line.hand.stepId}`} line={line} {...drawn} />
        ))}
      </ul>
    </section>
  );
}

/** Whose task it is by the day plan, and when. Its line is kept free until the plan is there, so that nothing moves under a finger. */
function ByPlan({ jobId, now, rules, plan }: Omit<Props, 'lines'> & { jobId: string }) {
  if (!plan) return null;
  return (
    <span className="block whitespace-nowrap">
      {plan === 'awaited' ? '\u00a0' : saidByPlan(plan, jobId, now, rules)}
    </span>
  );
}

function saidByPlan(plan: ToldPlan, jobId: string, now: number, wall: WallStyle): string {
  const next = nextAt(plan, jobId, Math.floor((now - plan.from) / 60_000));
  const who = next && plan.people.find((p) => p.id === next.personId);
  if (!next || !who) return 'Nobody yet';
  const begins = Math.max(now, plan.from + next.from * 60_000);
  return `${who.name.split(' ')[0]}, ${formatMoment(begins, now, wall)}`;
}

function Line({ line, now, rules, plan }: Omit<Props, 'lines'> & { line: HandLine<BenchItem> }) {
  const { hand, urgency, jobs } = line;
  const pressing = urgency === 'overdue' || urgency === 'now';
  const [first] = jobs;
  const due =
    hand.dueAt !== null && Math.abs(now - hand.dueAt) >= 60_000
      ? hand.dueAt > now
        ? formatMoment(hand.dueAt, now, rules)
        : `${formatDuration((now - hand.dueAt) / 1000)} ago`
      : '';
  return (
    <li className="flex items-center gap-3 border-b border-hair py-2.5 [contain-intrinsic-height:auto_89px] nth-[n+5]:[content-visibility:auto]">
      <div className="min-w-0 flex-1">
        <p
          className={`text-[17px] leading-snug ${hand.kind === 'stop' ? 'font-semibold text-oxide' : ''}`}
        >
          {hand.title}
        </p>
        <p className="text-[15px] text-soft">
          {jobs.map(({ wire }, i) => (
            <span key={wire.id}>
              {i > 0 && ', '}
              <Link to={`/jobs/${wire.id}`} className="wordlink whitespace-nowrap">
                {wire.battery.tag}
              </Link>
              {wire.state.charge &&
                wire.state.charge.mode !== 'ended' &&
                ` place ${wire.state.charge.place}`}
            </span>
          ))}
          {jobs.length > 1 && ': one walk'}
          {pressing && due && ` · ${due}`}
          {first && <ByPlan jobId={first.wire.id} now={now} rules={rules} plan={plan} />}
        </p>
      </div>
      {pressing || hand.kind === 'paused' ? (
        <Link
          to={
            jobs.length > 1
              ? `/walk?jobs=${jobs.map(({ wire }) => wire.id).join(',')}`
              : `/jobs/${first?.wire.id}`
          }
          className={`${hand.kind === 'stop' ? 'act-stop' : urgency === 'overdue' || urgency === 'now' ? 'act' : 'act-quiet'} shrink-0 px-3!`}
        >
          {jobs.length > 1 ? `Walk ${jobs.length}` : hand.act}
        </Link>
      ) : (
        <span className="shrink-0 font-label text-lg font-semibold">{due}</span>
      )}
    </li>
  );
}
