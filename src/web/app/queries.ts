import { QueryCache, QueryClient, queryOptions, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type {
  BenchWire,
  CatalogueModel,
  ChangeNotice,
  ChargeWire,
  JobWire,
  LiveSample,
  Lot,
  PlansWire,
  RecordWire,
  ShelfItem,
  Shop,
  SignInState,
} from '../../contract/wire.ts';
import { type HandsAt, handsAt } from '../../core/house/hours.ts';
import { DEFAULT_RULES } from '../../core/house/rules.ts';
import type { Job } from '../../core/procedures/job.ts';
import type { Procedure } from '../../core/procedures/procedure.ts';
import { settle } from '../../core/procedures/settle.ts';
import { get, ProblemError } from './api.ts';
import { benchClock } from './benchClock.ts';

/** A session that has ended is noticed at the first answer that says so. */
function onProblem(error: Error): void {
  if (error instanceof ProblemError && error.status === 401) void queryClient.invalidateQueries({ queryKey: ['sign-in'] });
}

export const queryClient = new QueryClient({
  queryCache: new QueryCache({ onError: onProblem }),
  defaultOptions: { queries: { staleTime: 5000, retry: (count, error) => !(error instanceof ProblemError) && count < 3, networkMode: 'always' } },
});

const shopQuery = queryOptions({ queryKey: ['shop'], queryFn: () => get<Shop>('/api/shop'), staleTime: 60_000 });
const benchQuery = queryOptions({ queryKey: ['bench'], queryFn: () => get<BenchWire>('/api/bench') });

const signInQuery = queryOptions({ queryKey: ['sign-in'], queryFn: () => get<SignInState>('/api/sign-in'), staleTime: 60_000 });

/** Asks for what every view needs while the page is still setting up. */
export function askAhead(): void {
  void queryClient.prefetchQuery(signInQuery);
  void queryClient.prefetchQuery(shopQuery);
  void queryClient.prefetchQuery(benchQuery);
}

export const useShop = () => useQuery(shopQuery);
export const useBench = () => useQuery(benchQuery);
export const useModels = () => useQuery({ queryKey: ['models'], queryFn: () => get<CatalogueModel[]>('/api/models') });
export const useJob = (id: string) =>
  useQuery({ queryKey: ['job', id], queryFn: () => get<{ job: JobWire; procedure: Procedure }>(`/api/jobs/${id}`), enabled: id !== '' });
export const useRecord = (tag: string) => useQuery({ queryKey: ['record', tag], queryFn: () => get<RecordWire>(`/api/batteries/${encodeURIComponent(tag)}`) });

export const useShelf = () => useQuery({ queryKey: ['shelf'], queryFn: () => get<{ items: ShelfItem[] }>('/api/shelf') });
export const useLots = () => useQuery({ queryKey: ['lots'], queryFn: () => get<{ lots: Lot[] }>('/api/lots') });
export const useSignIn = () => useQuery(signInQuery);
export const usePlans = () => useQuery({ queryKey: ['plans'], queryFn: () => get<PlansWire>('/api/plans') });

const LIVE = ['live'];
/** The newest samples of all live charges, as the stream brings them. */
const useLiveSamples = () => useQuery({ queryKey: LIVE, queryFn: () => Promise.resolve<Record<string, LiveSample>>({}), staleTime: Infinity });
export const useLiveSample = (chargeId: string | undefined): LiveSample | null => useLiveSamples().data?.[chargeId ?? ''] ?? null;

const CHARGE_EVERY_MS = 5000;
/** A charge on an instrument with its samples; drawn anew every few seconds while it runs. */
export const useCharge = (id: string) =>
  useQuery({
    queryKey: ['charge', id],
    queryFn: () => get<ChargeWire>(`/api/charges/${id}?points=240`),
    refetchInterval: ({ state }) => (state.data?.endedAt ? false : CHARGE_EVERY_MS),
  });

/** House rules, or the defaults while they are on their way. */
export function useRules() {
  return useShop().data?.rules ?? DEFAULT_RULES;
}

/** When hands are at the bench, by the house rules. */
export function useHands(): HandsAt {
  const { hours, timeZone } = useRules();
  return useMemo(() => handsAt({ hours, timeZone }), [hours, timeZone]);
}

/** A job as it stands now: what the clock has brought about is folded in. */
export function jobOf(wire: JobWire, procedure: Procedure, now: number): Job {
  return settle({ procedure, plan: wire.plan, state: wire.state }, now);
}

/** Follows the server's changes; everything open is current within a moment. */
export function followChanges(onLive: (live: boolean) => void): () => void {
  const stream = new EventSource('/api/stream');
  let lost = false;
  stream.onopen = () => {
    onLive(true);
    // What was missed while the line was down is asked for again; at the first opening nothing was.
    if (!lost) return;
    lost = false;
    void queryClient.invalidateQueries();
    void benchClock.sync().catch(() => undefined);
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
    if (notice.topic === 'charge') queryClient.setQueryData<Record<string, LiveSample>>(LIVE, (old) => ({ ...old, ...notice.live }));
    if (notice.topic === 'lots') void queryClient.invalidateQueries({ queryKey: ['lots'] });
    if (notice.topic === 'shelf') {
      void queryClient.invalidateQueries({ queryKey: ['shelf'] });
      void queryClient.invalidateQueries({ queryKey: ['record'] });
    }
    if (notice.topic === 'models') void queryClient.invalidateQueries({ queryKey: ['models'] });
    if (notice.topic === 'bench') {
      void queryClient.invalidateQueries({ queryKey: ['bench'] });
      void queryClient.invalidateQueries({ queryKey: ['record'] });
      void queryClient.invalidateQueries({ queryKey: ['charge'] });
      if (notice.jobId) void queryClient.invalidateQueries({ queryKey: ['job', notice.jobId] });
    }
  };
  return () => stream.close();
}
