import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Pin } from '../../../core/dayplan/pins.ts';
import {
  keptPin,
  type ToldPlan,
  type ToldTask,
  type ToldWork,
} from '../../../core/dayplan/told.ts';
import { formatMoment, type WallStyle } from '../../../core/quantities/format.ts';
import type { Problem } from '../../../contract/wire.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { notice } from '../../line/notices.ts';
import { queryClient } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { MomentField } from '../../parts/MomentField.tsx';
import { Difference } from './Difference.tsx';

/** A charge to be moved, and where it was dropped, if it was. */
export interface Moving {
  work: ToldWork;
  task: ToldTask;
  postId: string | null;
  notBefore: number | null;
}

interface Props {
  moving: Moving;
  plan: ToldPlan;
  now: number;
  wall: WallStyle;
  onClose: () => void;
}

const ANY = '';

/** Where and when a battery charges, set by hand: what that does to the promises is shown before it is kept. */
export function MoveDialog({ moving, plan, now, wall, onClose }: Props) {
  const { work, task } = moving;
  const { sign } = useSigning();
  const { set } = work;
  const before = keptPin(plan, work);
  const [postId, setPostId] = useState<string>(moving.postId ?? before.postId ?? ANY);
  const [notBefore, setNotBefore] = useState(moving.notBefore ?? before.notBefore);
  const [forbidden, setForbidden] = useState(before.forbidden);
  const [rush, setRush] = useState(before.rush);
  const [problem, setProblem] = useState<Problem | null>(null);
  const here = task.run?.postId ?? null;
  const name = (id: string | null): string => plan.posts.find((p) => p.id === id)?.name ?? '';
  const pin: Pin = {
    jobId: work.id,
    postId: postId === ANY ? null : postId,
    notBefore,
    forbidden: forbidden.filter((id) => id !== postId),
    rush,
  };
  const { data } = useQuery({
    queryKey: ['tryPin', pin, plan.from],
    queryFn: () => ask('tryPin', { body: { pin } }),
    placeholderData: keepPreviousData,
  });
  const keep = async (kept: Pin) => {
    const by = await sign();
    if (!by) return;
    try {
      await ask('pinJob', { body: { commandId: newId(), by, pin: kept } });
      await queryClient.invalidateQueries({ queryKey: ['dayPlan'] });
      notice.success(`${work.tag}: the day plan is made anew.`);
      onClose();
    } catch (error) {
      setProblem(problemOf(error));
    }
  };
  return (
    <OpenDialog title={`${work.tag}: ${task.what}`} onClose={onClose}>
      <div className="grid gap-4">
        <p className="text-lg text-soft">
          {here && `On ${name(here)}, `}
          {formatMoment(plan.from + task.from * 60_000, now, wall)} to{' '}
          {formatMoment(plan.from + task.to * 60_000, now, wall)}.{' '}
          <Link to={`/jobs/${work.id}`} className="wordlink">
            Open the job
          </Link>
        </p>
        <Choice
          label="Where"
          value={postId}
          options={[
            [ANY, 'Wherever it is best'],
            ...[...new Set(task.run?.mayAt ?? [])].map((id) => [id, name(id)] as const),
          ]}
          onChange={setPostId}
        />
        {here && (
          <label className="flex min-h-11 items-center gap-3 text-lg">
            <input
              type="checkbox"
              className="size-6"
              checked={forbidden.includes(here)}
              disabled={postId === here}
              onChange={(e) => setForbidden(e.target.checked ? [here] : [])}
            />
            Not on {name(here)}
          </label>
        )}
        <label className="flex min-h-11 items-center gap-3 text-lg">
          <input
            type="checkbox"
            className="size-6"
            checked={rush}
            onChange={(e) => setRush(e.target.checked)}
          />
          Before everything else
        </label>
        <MomentField
          label="Not before"
          value={notBefore}
          wall={wall}
          now={now}
          onChange={(at) => setNotBefore(at)}
        />
        <Effect before={plan} after={data?.plan ?? null} jobId={work.id} now={now} wall={wall} />
        {problem && (
          <p role="alert" className="text-oxide">
            {problem.message}
          </p>
        )}
        <div className="flex flex-wrap gap-3">
          <button type="button" className="act" onClick={() => void keep(pin)}>
            Keep
          </button>
          {set && (
            <button
              type="button"
              className="act-quiet"
              onClick={() =>
                void keep({
                  jobId: work.id,
                  postId: null,
                  notBefore: null,
                  forbidden: [],
                  rush: false,
                })
              }
            >
              Let the plan choose again
            </button>
          )}
          <DialogBack>Back</DialogBack>
        </div>
      </div>
    </OpenDialog>
  );
}

interface EffectProps {
  before: ToldPlan;
  after: ToldPlan | null;
  jobId: string;
  now: number;
  wall: WallStyle;
}

/** What a move does to this battery and to the promises of others. */
function Effect({ before, after, jobId, now, wall }: EffectProps) {
  if (!after) return <p className="min-h-14 text-soft">Asking the day plan …</p>;
  const was = before.works.find((w) => w.id === jobId);
  const is = after.works.find((w) => w.id === jobId);
  const said = (plan: ToldPlan, work: ToldWork | undefined): string =>
    work?.ready
      ? formatMoment(plan.from + work.ready.middle * 60_000, now, wall)
      : 'not within the plan';
  const [then, hence] = [said(before, was), said(after, is)];
  return (
    <section aria-label="What that does" className="min-h-14 border-l-4 border-slate pl-3 text-lg">
      <p>{then === hence ? `Ready ${hence}, as before.` : `Ready ${hence} instead of ${then}.`}</p>
      <Difference before={before} after={after} />
    </section>
  );
}
