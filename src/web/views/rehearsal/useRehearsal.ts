import { proxy, type Remote, wrap } from 'comlink';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Comparison } from '../../../core/rehearsal/compare.ts';
import type { Odds } from '../../../core/rehearsal/outlook.ts';
import type { Rehearsal } from '../../../core/rehearsal/rehearse.ts';
import type { RehearsalWorker } from '../../workers/rehearsal.worker.ts';

export interface RehearsalState {
  /** What was asked and what came of it, together: they never belong to different plans. */
  drawn: { comparison: Comparison; rehearsals: Rehearsal[] } | null;
  odds: Odds[] | null;
  /** Twins done while the odds are being worked out; null when nothing runs. */
  done: number | null;
  failed: string | null;
  cancel: () => void;
}

/** After a change, the odds wait for the hand to rest. ms */
const QUIET_MS = 200;

/** Rehearses in a worker: the drawing at once, the odds when nothing has changed for a moment. */
export function useRehearsal(comparison: Comparison | null, twins: number): RehearsalState {
  const worker = useRef<Remote<RehearsalWorker> | null>(null);
  const [drawn, setDrawn] = useState<RehearsalState['drawn']>(null);
  const [odds, setOdds] = useState<Odds[] | null>(null);
  const [done, setDone] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const wanted = useRef<Comparison | null>(null);
  const busy = useRef(false);

  useEffect(() => {
    const raw = new Worker(new URL('../../workers/rehearsal.worker.ts', import.meta.url), { type: 'module' });
    worker.current = wrap<RehearsalWorker>(raw);
    return () => {
      worker.current = null;
      raw.terminate();
    };
  }, []);

  /** Draws the newest wish; those that were overtaken meanwhile are never drawn. */
  const draw = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    try {
      for (let next = wanted.current; next && worker.current; next = wanted.current) {
        wanted.current = null;
        const rehearsals = await worker.current.draw(next);
        setDrawn({ comparison: next, rehearsals });
        setFailed(null);
      }
    } catch (error) {
      setFailed((error as Error).message);
    } finally {
      busy.current = false;
    }
  }, []);

  useEffect(() => {
    wanted.current = comparison;
    if (!comparison) return undefined;
    void draw();
    let over = false;
    const timer = setTimeout(() => {
      setDone(0);
      const tell = proxy((count: number, soFar: Odds[]) => {
        if (over) return;
        setDone(count);
        setOdds(soFar);
      });
      void worker.current
        ?.odds(comparison, twins, tell)
        .then((all) => {
          if (over) return;
          if (all) setOdds(all);
          setDone(null);
        })
        .catch((error: unknown) => setFailed((error as Error).message));
    }, QUIET_MS);
    return () => {
      over = true;
      clearTimeout(timer);
      setDone(null);
      setOdds(null);
    };
  }, [comparison, twins, draw]);

  const cancel = useCallback(() => {
    void worker.current?.cancel();
    setDone(null);
  }, []);
  return { drawn, odds, done, failed, cancel };
}
