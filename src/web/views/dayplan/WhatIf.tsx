import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { supposedWords } from '../../../core/dayplan/planWords.ts';
import type { Supposed } from '../../../core/dayplan/suppose.ts';
import { keptPin, type ToldPlan } from '../../../core/dayplan/told.ts';
import { formatDay, type WallStyle } from '../../../core/quantities/format.ts';
import { daysLater, momentOnDay, onTheWall } from '../../../core/quantities/zonedTime.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { notice } from '../../line/notices.ts';
import { queryClient, useShop } from '../../line/queries.ts';
import { saveRules } from '../../line/saveRules.ts';
import { useSigning } from '../../line/signing.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { Difference } from './Difference.tsx';

/** A second plan beside the first: what was tried, and what comes of it. */
export interface SecondPlan {
  supposed: Supposed;
  plan: ToldPlan;
}

type Kind = Supposed['kind'];
const KINDS: readonly (readonly [Kind, string])[] = [
  ['rush', 'One battery before everything else'],
  ['another', 'One more charger'],
  ['out', 'A charger breaks'],
  ['away', 'Somebody is away'],
  ['closed', 'The shop is closed for a day'],
  ['longer', 'Everybody stays an hour longer'],
];
/** Days ahead that can be asked about. */
const DAYS = 7;

interface DialogProps {
  plan: ToldPlan;
  now: number;
  wall: WallStyle;
  onClose: () => void;
  onTried: (second: SecondPlan) => void;
}

/** Asks what the plan would be in a shop that is otherwise. */
export function WhatIfDialog({ plan, now, wall, onClose, onTried }: DialogProps) {
  // What is most in need of it first.
  const jobs = plan.works
    .filter((w) => w.of === 'job' && !w.set?.rush)
    .toSorted((a, b) => (a.kept ?? 2) - (b.kept ?? 2));
  const today = onTheWall(now, wall.timeZone).date;
  const days = Array.from({ length: DAYS }, (_, i) => {
    const day = daysLater(today, i);
    return [day, formatDay(momentOnDay(day, 12 * 60, wall.timeZone), wall)] as const;
  });
  const posts = plan.posts.map((p) => [p.id, p.about ? `${p.name}, ${p.about}` : p.name] as const);
  const [kind, setKind] = useState<Kind>('rush');
  const [workId, setWorkId] = useState(jobs[0]?.id ?? '');
  const [postId, setPostId] = useState(plan.posts[0]?.id ?? '');
  const [personId, setPersonId] = useState(plan.people[0]?.id ?? '');
  const [day, setDay] = useState(today);
  const tryIt = useSuppose(onTried);
  const supposed = ((): Supposed => {
    switch (kind) {
      case 'rush':
        return { kind, workId };
      case 'another':
        return { kind, like: postId };
      case 'out':
        return { kind, postId, day };
      case 'away':
        return { kind, personId, day };
      case 'closed':
      case 'longer':
        return { kind, day };
    }
  })();
  return (
    <OpenDialog
      title="What if"
      description="A second plan, beside the one that holds. Nothing changes until you take it."
      onClose={onClose}
    >
      <div className="grid gap-4">
        <Choice label="Suppose" value={kind} options={KINDS} onChange={setKind} />
        {kind === 'rush' && (
          <Choice
            label="Which battery"
            value={workId}
            options={jobs.map((w) => [w.id, `${w.tag}, ${w.whose}`] as const)}
            onChange={setWorkId}
          />
        )}
        {kind === 'another' && (
          <Choice label="Like" value={postId} options={posts} onChange={setPostId} />
        )}
        {kind === 'out' && (
          <Choice label="Which charger" value={postId} options={posts} onChange={setPostId} />
        )}
        {kind === 'away' && (
          <Choice
            label="Who"
            value={personId}
            options={plan.people.map((p) => [p.id, p.name] as const)}
            onChange={setPersonId}
          />
        )}
        {(kind === 'away' || kind === 'closed' || kind === 'longer' || kind === 'out') && (
          <Choice
            label={kind === 'out' ? 'From' : 'Day'}
            value={day}
            options={days}
            onChange={setDay}
          />
        )}
        {tryIt.isError && (
          <p role="alert" className="text-oxide">
            {problemOf(tryIt.error).message}
          </p>
        )}
        <div className="flex flex-wrap gap-3">
          <button
            type="button"
            className="act"
            disabled={tryIt.isPending || (kind === 'rush' && workId === '')}
            onClick={() => tryIt.mutate(supposed)}
          >
            {tryIt.isPending ? 'Planning …' : 'Show the second plan'}
          </button>
          <DialogBack>Back</DialogBack>
        </div>
      </div>
    </OpenDialog>
  );
}

/** Asks for a second plan. */
export function useSuppose(onTried: (second: SecondPlan) => void) {
  return useMutation({
    mutationFn: async (supposed: Supposed) => {
      const { plan } = await ask('supposePlan', { body: { supposed } });
      if (!plan) throw new Error('There is no day plan to ask just now.');
      return { supposed, plan };
    },
    onSuccess: onTried,
  });
}

interface BannerProps {
  first: ToldPlan;
  second: SecondPlan;
  wall: WallStyle;
  onBack: () => void;
}

/** Stands above a second plan for as long as it is shown: what it is, what it changes, and how to take it or leave it. */
export function SecondPlanBanner({ first, second: { supposed, plan }, wall, onBack }: BannerProps) {
  return (
    <section
      aria-label="Second plan"
      className="mb-3 grid gap-3 rounded-md border-2 border-dashed border-slate bg-sheet p-4"
    >
      <h2 className="text-2xl">
        What if: {supposedWords(first, supposed, wall)}{' '}
        <span className="font-medium text-soft">This is not the plan.</span>
      </h2>
      <div className="text-lg">
        <Difference before={first} after={plan} />
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <TakeIt supposed={supposed} plan={first} onTaken={onBack} />
        <button type="button" className="act-quiet" onClick={onBack}>
          Back to the plan
        </button>
      </div>
    </section>
  );
}

/** Makes it so, where the application can; else the way to where it is done. */
function TakeIt({
  supposed,
  plan,
  onTaken,
}: {
  supposed: Supposed;
  plan: ToldPlan;
  onTaken: () => void;
}) {
  const { sign } = useSigning();
  const { data: shop } = useShop();
  const [fault, setFault] = useState<string | null>(null);
  const take = async (work: (by: string) => Promise<void>) => {
    const by = await sign();
    if (!by) return;
    try {
      await work(by);
      await queryClient.invalidateQueries({ queryKey: ['dayPlan'] });
      notice.success('The day plan is made anew.');
      onTaken();
    } catch (error) {
      setFault(problemOf(error).message);
    }
  };
  const act = (words: string, work: (by: string) => Promise<void>) => (
    <>
      <button type="button" className="act" onClick={() => void take(work)}>
        {words}
      </button>
      {fault && (
        <p role="alert" className="text-oxide">
          {fault}
        </p>
      )}
    </>
  );
  const rules = shop?.rules;
  switch (supposed.kind) {
    case 'rush':
      return act('Put it first', async (by) => {
        // What else is set by hand for it stays.
        const set = plan.works.find((w) => w.id === supposed.workId)?.set ?? null;
        const pin = { ...keptPin(plan, { id: supposed.workId, set }), rush: true };
        await ask('pinJob', { body: { commandId: newId(), by, pin } });
      });
    case 'closed':
      return (
        rules &&
        act('Close the shop that day', (by) =>
          saveRules({ closedOn: [...new Set([...rules.closedOn, supposed.day])].sort() }, by),
        )
      );
    case 'away':
      return (
        rules &&
        act('Write the absence down', (by) =>
          saveRules(
            {
              absences: [
                ...rules.absences,
                { personId: supposed.personId, from: supposed.day, to: supposed.day },
              ],
            },
            by,
          ),
        )
      );
    case 'longer':
      return (
        <Link className="wordlink text-lg" to="/rules/hours">
          Hours and absences
        </Link>
      );
    default:
      return (
        <Link className="wordlink text-lg" to="/chargers">
          Chargers
        </Link>
      );
  }
}
