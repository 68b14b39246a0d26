import { knowClocks } from '../../core/quantities/zonedTime.ts';
import { sayIn } from '../../core/quantities/shopUnits.ts';
import { setUnits } from './units.ts';
import {
  type DehydratedState,
  hydrate,
  QueryCache,
  QueryClient,
  queryOptions,
  useQuery,
} from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Answers } from '../../contract/answers.ts';
import type { LiveSample } from '../../contract/chargeWire.ts';
import type { BenchWire, JobWire } from '../../contract/wire.ts';
import { type HandsAt, handsAt } from '../../core/house/hours.ts';
import { DEFAULT_RULES } from '../../core/house/rules.ts';
import { expectedChargeS } from '../../core/job/chargeExpected.ts';
import type { Job } from '../../core/job/job.ts';
import type { Procedure } from '../../core/plan/procedure.ts';
import { settle } from '../../core/steps/settle.ts';
import { ProblemError, ask } from './api.ts';
import { inPieces } from './inPieces.ts';

/** A session that has ended is noticed at the first answer that says so. */
function onProblem(error: Error): void {
  if (error instanceof ProblemError && error.status === 401)
    void queryClient.invalidateQueries({ queryKey: ['sign-in'] });
}

export const queryClient = new QueryClient({
  queryCache: new QueryCache({ onError: onProblem }),
  defaultOptions: {
    queries: {
      staleTime: 5000,
      // What the server has judged stands; where it asks to wait, it is asked again when it said.
      retry: (count, error) =>
        (!(error instanceof ProblemError) || error.retryAfterMs > 0) && count < 3,
      retryDelay: (count, error) =>
        Math.max(1000 * 2 ** count, error instanceof ProblemError ? error.retryAfterMs : 0),
      networkMode: 'always',
    },
  },
});

/** Every change of it is told, and the page itself goes by the clock: it stands until the hour counts, however slow a phone is. ms */
const TOLD_MS = 60_000;

const shopQuery = queryOptions({
  queryKey: ['shop'],
  queryFn: async () => {
    const shop = await ask('shop');
    followShop(shop);
    return shop;
  },
  staleTime: TOLD_MS,
});

/** What the shop's rules set beside every component: the units of problems, and its clocks. */
function followShop({ rules, clocks }: Answers['shop']): void {
  setUnits(rules);
  knowClocks(rules.timeZone, clocks);
}

/** How long the charges of a bench take is simulated: here and once, not in the middle of drawing them. */
const foreseeCharges = ({ jobs, procedures }: BenchWire): Promise<void> =>
  inPieces(jobs, ({ procedureId, plan, state }) => {
    const procedure = procedures[procedureId];
    if (procedure && state.current) expectedChargeS({ procedure, plan, state });
  });

/** Takes up answers that were kept, or that came with the page, as if they had just been asked for. */
export async function takeUp(state: DehydratedState): Promise<void> {
  hydrate(queryClient, state);
  const shop = queryClient.getQueryData(shopQuery.queryKey);
  if (shop) followShop(shop);
  const bench = queryClient.getQueryData<BenchWire>(benchQuery.queryKey);
  if (bench) await foreseeCharges(bench);
}
export const benchQuery = queryOptions({
  queryKey: ['bench'],
  staleTime: TOLD_MS,
  queryFn: async () => {
    const bench = await ask('bench');
    await foreseeCharges(bench);
    // A job may have changed meanwhile, and been asked for by itself: none goes back to what it was.
    const kept = new Map(
      queryClient.getQueryData<BenchWire>(['bench'])?.jobs.map((job) => [job.id, job]),
    );
    const newest = (job: JobWire): JobWire => {
      const known = kept.get(job.id);
      return known && known.seq > job.seq ? known : job;
    };
    return { ...bench, jobs: bench.jobs.map(newest) };
  },
});

const signInQuery = queryOptions({
  queryKey: ['sign-in'],
  queryFn: () => ask('signInState'),
  staleTime: 60_000,
});

/** Asks for what every view needs, and for the bench where that is shown, while the page is still setting up. */
export const askAhead = (pathname: string): Promise<unknown> =>
  Promise.all([
    queryClient.prefetchQuery(signInQuery),
    queryClient.prefetchQuery(shopQuery),
    pathname === '/' ? queryClient.prefetchQuery(benchQuery) : null,
  ]);

export const useShop = () => useQuery(shopQuery);
/** @param wanted false where it can wait: what is known of it is shown, and nothing is asked */
export const useBench = (wanted = true) => useQuery({ ...benchQuery, enabled: wanted });
export const useModels = () => useQuery({ queryKey: ['models'], queryFn: () => ask('models') });
export const jobQuery = (id: string) =>
  queryOptions({
    queryKey: ['job', id],
    queryFn: () => ask('job', { params: { id } }),
    staleTime: TOLD_MS,
  });
export const useJob = (id: string) => useQuery({ ...jobQuery(id), enabled: id !== '' });
/** A job's sheet as the server tells it: kept when the job is over. */
export const useSheet = (id: string) =>
  useQuery({
    queryKey: ['sheet', id],
    queryFn: () => ask('sheet', { params: { id } }),
    staleTime: 0,
  });
export const useRecord = (tag: string) =>
  useQuery({ queryKey: ['record', tag], queryFn: () => ask('record', { params: { tag } }) });

/** Notes and pictures on a battery and on whatever belongs to it. */
export const useNotes = (tag: string) =>
  useQuery({
    queryKey: ['notes', tag],
    queryFn: () => ask('notes', { params: { tag } }),
    staleTime: TOLD_MS,
  });
export const useClaims = () => useQuery({ queryKey: ['claims'], queryFn: () => ask('claims') });
export const useHolds = () => useQuery({ queryKey: ['holds'], queryFn: () => ask('holds') });
export const useFailures = () =>
  useQuery({ queryKey: ['failures'], queryFn: () => ask('failures') });
export const usePromises = () =>
  useQuery({ queryKey: ['promises'], queryFn: () => ask('promises') });
export const usePictureRoom = () =>
  useQuery({ queryKey: ['notes', 'room'], queryFn: () => ask('pictureRoom') });
export const useShelf = () => useQuery({ queryKey: ['shelf'], queryFn: () => ask('shelf') });
const FILE_EVERY_MS = 60_000;
/** How the data file stands on its disk; asked now and then, so that a full disk is known before it is full. */
export const useFileStanding = (wanted = true) =>
  useQuery({
    queryKey: ['file'],
    queryFn: () => ask('file'),
    refetchInterval: FILE_EVERY_MS,
    staleTime: FILE_EVERY_MS / 2,
    enabled: wanted,
  });
/** The shop's chargers as they are written down; what is on them stands with the jobs. */
export const useChargers = () =>
  useQuery({ queryKey: ['chargers'], queryFn: () => ask('chargers') });
/** The plan of the next days; made anew by the server when anything changes. */
export const useServices = () =>
  useQuery({ queryKey: ['services'], queryFn: () => ask('services') });
export const useDayPlan = (enabled = true) =>
  useQuery({ queryKey: ['dayPlan'], queryFn: () => ask('dayPlan'), enabled });
export const useRecoveries = () =>
  useQuery({ queryKey: ['recoveries'], queryFn: () => ask('recoveries') });
export const useExperience = () =>
  useQuery({ queryKey: ['experience'], queryFn: () => ask('experience', { query: {} }) });
export const useLots = () => useQuery({ queryKey: ['lots'], queryFn: () => ask('lots') });
export const useSignIn = () => useQuery(signInQuery);
export const usePlans = () => useQuery({ queryKey: ['plans'], queryFn: () => ask('plans') });

export const LIVE = ['live'];
/** The newest sample of a live charge, as the stream brings it. */
export const useLiveSample = (chargeId: string | undefined): LiveSample | null =>
  useQuery({
    queryKey: LIVE,
    queryFn: () => Promise.resolve<Record<string, LiveSample>>({}),
    staleTime: Infinity,
    select: (samples) => samples[chargeId ?? ''] ?? null,
  }).data ?? null;

const CHARGE_EVERY_MS = 5000;
/** A charge on an instrument with its samples; drawn anew every few seconds while it runs. */
export const useCharge = (id: string) =>
  useQuery({
    queryKey: ['charge', id],
    queryFn: () => ask('charge', { params: { id }, query: { points: 240 } }),
    refetchInterval: ({ state }) => (state.data?.endedAt ? false : CHARGE_EVERY_MS),
  });

/** House rules, or the defaults while they are on their way. */
export function useRules() {
  return useShop().data?.rules ?? DEFAULT_RULES;
}

/** Says a sentence of the core in the shop's units. */
export function useSay(): (text: string) => string {
  const rules = useRules();
  return (text) => sayIn(text, rules);
}

/** When hands are at the bench, by the house rules. */
export function useHands(): HandsAt {
  const { hours, timeZone } = useRules();
  return useMemo(() => handsAt({ hours, timeZone }), [hours, timeZone]);
}

const standing = new WeakMap<JobWire, { job: Job; at: number }>();

/**
 * A job as it stands now: what the clock has brought about is folded in. The same job as a moment ago unless something has
 * fallen due since: what draws it need not draw it again.
 */
export function jobOf(wire: JobWire, procedure: Procedure, now: number): Job {
  const known = standing.get(wire);
  // A clock that was set back undoes what it had brought about.
  const before =
    known && known.at <= now ? known.job : { procedure, plan: wire.plan, state: wire.state };
  const job = settle(before, now);
  standing.set(wire, { job, at: now });
  return job;
}

/** A job with its procedure, as the server answers. */
export interface JobAnswer {
  job: JobWire;
  procedure: Procedure;
}

/** Puts a job's newest standing wherever the page keeps it; an older one than is known changes nothing. */
export function keepJob({ job, procedure }: JobAnswer): void {
  queryClient.setQueryData<JobAnswer>(
    ['job', job.id],
    (old) => old && (old.job.seq > job.seq ? old : { job, procedure }),
  );
  queryClient.setQueryData<BenchWire>(
    benchQuery.queryKey,
    (old) => old && benchWith(old, job, procedure),
  );
}

function benchWith(bench: BenchWire, job: JobWire, procedure: Procedure): BenchWire {
  const known = bench.jobs.find((j) => j.id === job.id);
  if (known && known.seq >= job.seq) return bench;
  const jobs = known ? bench.jobs.map((j) => (j.id === job.id ? job : j)) : [...bench.jobs, job];
  return { procedures: { ...bench.procedures, [job.procedureId]: procedure }, jobs };
}
