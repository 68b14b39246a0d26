import type { LiveSample } from '../../contract/chargeWire.ts';
import type { BenchWire, ChangeNotice } from '../../contract/wire.ts';
import { ask, oldestAnswer, pathTo } from './api.ts';
import { benchClock } from './benchClock.ts';
import { inDrill } from './drillPlace.ts';
import { inPieces } from './inPieces.ts';
import { benchQuery, type JobAnswer, keepJob, LIVE, queryClient } from './queries.ts';
import { answered } from './underWay.ts';

/** What is only now being asked for may be read before a change that is heard of meanwhile: it is asked for once more. */
function againIfFirst(queryKey: readonly string[]): void {
  const first = queryClient.getQueryCache().findAll({
    queryKey,
    fetchStatus: 'fetching',
    predicate: ({ state }) => state.data === undefined,
  });
  for (const query of first)
    void query
      .fetch()
      .catch(() => undefined)
      .then(() => queryClient.invalidateQueries({ queryKey: query.queryKey, exact: true }));
}

/** Asks for something anew. */
function anew(...queryKey: readonly string[]): void {
  againIfFirst(queryKey);
  void queryClient.invalidateQueries({ queryKey });
}

/** Jobs that are being asked for, and up to which event they are known to have changed meanwhile. */
const asked = new Map<string, number>();

/**
 * Asks for one job that has changed, and not for the whole bench; several changes in a row are asked for once, and what this page
 * has brought about itself not at all.
 */
async function refreshJob(jobId: string, seq: number): Promise<void> {
  againIfFirst(['job', jobId]);
  againIfFirst(['bench']);
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

/** The last change this page has heard of. */
let heard: string | undefined;
/** What a line that was down for longer has missed is not all that has changed: much depends on the hour. ms */
const LONG_MS = 60_000;

/** Asks for everything that is shown. */
function allAnew(): void {
  void queryClient.invalidateQueries({ refetchType: 'none' });
  // One after the other: asked for all at once, a phone stands still meanwhile.
  void inPieces(queryClient.getQueryCache().findAll({ type: 'active' }), ({ queryKey }) => {
    void queryClient.refetchQueries({ queryKey, exact: true });
  });
}

/** Asks again for what could not be fetched while there was no line. */
const failedAnew = (): void =>
  void queryClient.refetchQueries({
    type: 'active',
    predicate: ({ state }) => state.status === 'error',
  });

/** Topics that are asked for under their own name, and nothing else. */
const BY_NAME = new Set<ChangeNotice['topic']>([
  'shop',
  'plans',
  'chargers',
  // A better one has been made of the same: it only has to be fetched.
  'dayPlan',
  'lots',
  'shelf',
  'models',
  'notes',
  'claims',
  'holds',
  'services',
]);

/** Asks for what a notice says has changed. */
function take({ topic, jobId, seq, live }: ChangeNotice): void {
  if (topic === 'anew') allAnew();
  if (topic === 'clock' || topic === 'anew') void benchClock.sync().catch(() => undefined);
  if (topic === 'charge')
    queryClient.setQueryData<Record<string, LiveSample>>(LIVE, (old) => ({ ...old, ...live }));
  if (PLANNED_FROM.includes(topic)) planAnew();
  if (BY_NAME.has(topic)) anew(topic);
  if (topic === 'shelf' || topic === 'bench') anew('record');
  if (topic !== 'bench') return;
  if (jobId) void refreshJob(jobId, seq ?? Infinity);
  else anew('bench');
  anew('charge');
}

/** Follows the server's changes; everything open is current within a moment. */
export function followChanges(onLive: (live: boolean) => void): () => void {
  if (inDrill) {
    // Its bench is in the page, and tells of its changes itself.
    onLive(true);
    return () => undefined;
  }
  // What changes between the oldest answer and the line that follows it is told when the line opens.
  const since = heard ?? oldestAnswer();
  const stream = new EventSource(pathTo('stream', { query: since === undefined ? {} : { since } }));
  let lostAt: number | null = null;
  stream.onopen = () => {
    onLive(true);
    if (lostAt === null) return;
    void benchClock.sync().catch(() => undefined);
    if (performance.now() - lostAt > LONG_MS) allAnew();
    else failedAnew();
    lostAt = null;
  };
  stream.onerror = () => {
    lostAt ??= performance.now();
    onLive(false);
  };
  stream.onmessage = ({ data, lastEventId }: MessageEvent<string>) => {
    heard = lastEventId || heard;
    take(JSON.parse(data) as ChangeNotice);
  };
  return () => stream.close();
}
