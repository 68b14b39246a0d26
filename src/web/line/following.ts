import type { LiveSample } from '../../contract/chargeWire.ts';
import type { BenchWire, ChangeNotice } from '../../contract/wire.ts';
import { ask, lastWroteAt, pathTo } from './api.ts';
import { benchClock } from './benchClock.ts';
import { inDrill } from './drillPlace.ts';
import { inPieces } from './inPieces.ts';
import { benchQuery, type JobAnswer, keepJob, LIVE, queryClient } from './queries.ts';
import { answered } from './underWay.ts';
import { whenIdle } from './whenIdle.ts';

/** Jobs that are being asked for, and up to which event they are known to have changed meanwhile. */
const asked = new Map<string, number>();

/**
 * Asks for one job that has changed, and not for the whole bench; several changes in a row are asked for once, and what this page
 * has brought about itself not at all.
 */
async function refreshJob(jobId: string, seq: number): Promise<void> {
  await answered(jobId);
  const bench = queryClient.getQueryData<BenchWire>(benchQuery.queryKey);
  const known =
    bench?.jobs.find((j) => j.id === jobId)?.seq ??
    queryClient.getQueryData<JobAnswer>(['job', jobId])?.job.seq ??
    -1;
  if (known >= seq) return;
  const waiting = asked.has(jobId);
  asked.set(jobId, (asked.get(jobId) ?? 0) + 1);
  if (waiting) return;
  try {
    for (let changes = asked.get(jobId); ; changes = asked.get(jobId)) {
      keepJob(await ask('job', { params: { id: jobId } }));
      if (asked.get(jobId) === changes) break;
    }
  } catch {
    void queryClient.invalidateQueries({ queryKey: benchQuery.queryKey });
    void queryClient.invalidateQueries({ queryKey: ['job', jobId] });
  } finally {
    asked.delete(jobId);
  }
}

/** What a day plan is made from; it is asked for again where it is shown. */
const PLANNED_FROM: readonly ChangeNotice['topic'][] = [
  'plannedByHand',
  'bench',
  'shop',
  'chargers',
  'shelf',
  'claims',
  'services',
];

/** A plan costs the server seconds, and changes come several at once. After so long without one it is asked for at once, ms. */
const PLAN_RESTED_MS = 3000;
/** Else when nothing has changed for so long, and after so long at the latest, ms. */
const PLAN_QUIET_MS = 2000;
const PLAN_LATEST_MS = 10_000;
let plannedAt = -Infinity;
let planWaits: { since: number; atOnce: boolean; timer: ReturnType<typeof setTimeout> } | null =
  null;

/** Asks for the day plan anew: at once after a quiet while, else once for all that changes meanwhile. */
function planAnew(): void {
  if (planWaits?.atOnce) return;
  const now = performance.now();
  const since = planWaits?.since ?? now;
  if (planWaits) clearTimeout(planWaits.timer);
  const atOnce = !planWaits && now >= plannedAt + PLAN_RESTED_MS;
  const wait = atOnce ? 0 : Math.max(0, Math.min(PLAN_QUIET_MS, since + PLAN_LATEST_MS - now));
  const timer = setTimeout(() => {
    planWaits = null;
    plannedAt = performance.now();
    void queryClient.invalidateQueries({ queryKey: ['dayPlan'] });
  }, wait);
  planWaits = { since, atOnce, timer };
}

/** What is shown came with the page, and has not been asked for since. */
let cameWithPage = false;
/** A page that came drawn is in hand so long after it stands, ms. */
const IN_HAND_MS = 500;
/** A stream that opens later than this may have missed something, ms. */
const OPENS_WITHIN_MS = 1000;
export const answersCameWithPage = (): void => void (cameWithPage = true);

/** Follows the server's changes; everything open is current within a moment. */
export function followChanges(onLive: (live: boolean) => void): () => void {
  if (inDrill) {
    // Its bench is in the page, and tells of its changes itself.
    onLive(true);
    return () => undefined;
  }
  const stream = new EventSource(pathTo('stream'));
  const askAnew = (): void => {
    void benchClock.sync().catch(() => undefined);
    void queryClient.invalidateQueries({ refetchType: 'none' });
    // One after the other: asked for all at once, a phone stands still meanwhile.
    void inPieces(queryClient.getQueryCache().findAll({ type: 'active' }), ({ queryKey }) => {
      void queryClient.refetchQueries({ queryKey, exact: true });
    });
  };
  const began = performance.now();
  const opensLate = () => performance.now() - began > OPENS_WITHIN_MS || lastWroteAt() > began;
  let lost = false;
  let opened = false;
  stream.onopen = () => {
    onLive(true);
    // What was missed while the line was down is asked for again.
    if (lost) askAnew();
    // What came with the page is as old as the page: it is in hand first.
    else if (cameWithPage) whenIdle(askAnew, IN_HAND_MS);
    // Nobody told of what changed before the line was there.
    else if (!opened && opensLate()) askAnew();
    opened = true;
    lost = cameWithPage = false;
  };
  stream.onerror = () => {
    lost = true;
    onLive(false);
  };
  stream.onmessage = (message: MessageEvent<string>) => {
    const notice = JSON.parse(message.data) as ChangeNotice;
    if (notice.topic === 'clock') void benchClock.sync();
    if (notice.topic === 'shop') void queryClient.invalidateQueries({ queryKey: ['shop'] });
    if (notice.topic === 'plans') void queryClient.invalidateQueries({ queryKey: ['plans'] });
    if (notice.topic === 'charge')
      queryClient.setQueryData<Record<string, LiveSample>>(LIVE, (old) => ({
        ...old,
        ...notice.live,
      }));
    if (notice.topic === 'chargers') void queryClient.invalidateQueries({ queryKey: ['chargers'] });
    if (PLANNED_FROM.includes(notice.topic)) planAnew();
    // A better one has been made of the same: it only has to be fetched.
    if (notice.topic === 'dayPlan') void queryClient.invalidateQueries({ queryKey: ['dayPlan'] });
    if (notice.topic === 'lots') void queryClient.invalidateQueries({ queryKey: ['lots'] });
    if (notice.topic === 'shelf') {
      void queryClient.invalidateQueries({ queryKey: ['shelf'] });
      void queryClient.invalidateQueries({ queryKey: ['record'] });
    }
    for (const topic of ['notes', 'claims', 'holds', 'services'] as const)
      if (notice.topic === topic) void queryClient.invalidateQueries({ queryKey: [topic] });
    if (notice.topic === 'models') void queryClient.invalidateQueries({ queryKey: ['models'] });
    if (notice.topic === 'bench') {
      if (notice.jobId) void refreshJob(notice.jobId, notice.seq ?? Infinity);
      else void queryClient.invalidateQueries({ queryKey: ['bench'] });
      void queryClient.invalidateQueries({ queryKey: ['record'] });
      void queryClient.invalidateQueries({ queryKey: ['charge'] });
    }
  };
  return () => stream.close();
}
