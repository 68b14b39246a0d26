import { proxy, wrap } from 'comlink';
import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import type { Comparison } from '../../../core/rehearsal/compare.ts';
import type { RehearsalApi } from '../../workers/rehearsalApi.ts';
import { Rehearser, type RehearsalShown } from './rehearser.ts';

export interface RehearsalState extends RehearsalShown {
  cancel: () => void;
}

const NOTHING: RehearsalShown = { drawn: null, odds: null, done: null, failed: null };
const nobody = () => () => undefined;

/** Rehearses in a worker. */
export function useRehearsal(comparison: Comparison | null, twins: number): RehearsalState {
  const [rehearser, setRehearser] = useState<Rehearser | null>(null);
  useEffect(() => {
    const raw = new Worker(new URL('../../workers/rehearsal.worker.ts', import.meta.url), { type: 'module' });
    const remote = wrap<RehearsalApi>(raw);
    setRehearser(
      new Rehearser({
        draw: (wanted) => remote.draw(wanted),
        odds: (wanted, count, tell) => remote.odds(wanted, count, proxy(tell)),
        cancel: () => remote.cancel(),
      }),
    );
    return () => raw.terminate();
  }, []);
  useEffect(() => void rehearser?.ask(comparison, twins), [rehearser, comparison, twins]);
  const shown = useSyncExternalStore(rehearser?.subscribe ?? nobody, () => rehearser?.shown ?? NOTHING);
  const cancel = useCallback(() => rehearser?.cancel(), [rehearser]);
  return { ...shown, cancel };
}
