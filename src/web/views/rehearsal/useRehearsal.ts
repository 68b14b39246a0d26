import { proxy, type Remote, wrap } from 'comlink';
import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import type { Comparison } from '../../../core/rehearsal/compare.ts';
import type { ShopCharger } from '../../../core/chargers/charger.ts';
import type { ShopCourse } from '../../../core/chargers/onTwin.ts';
import type { RehearsalApi } from '../../workers/rehearsalApi.ts';
import { Rehearser, type RehearsalShown, type RehearsalWork } from './rehearser.ts';

export interface RehearsalState extends RehearsalShown {
  cancel: () => void;
  chargers: ShopChargerWork['chargers'];
}

interface ShopChargerWork {
  /** What the shop's chargers do with the best guess by themselves. */
  chargers: (chargers: readonly ShopCharger[], of: Comparison) => Promise<ShopCourse[]>;
}

/** The work done in a worker, begun when it is first asked for. */
function workInWorker(): RehearsalWork & ShopChargerWork & { end: () => void } {
  let worker: Worker | undefined;
  let remote: Remote<RehearsalApi> | undefined;
  const ready = (): Remote<RehearsalApi> => {
    worker ??= new Worker(new URL('../../workers/rehearsal.worker.ts', import.meta.url), {
      type: 'module',
    });
    return (remote ??= wrap<RehearsalApi>(worker));
  };
  return {
    draw: (wanted) => ready().draw(wanted),
    chargers: (chargers, of) => ready().chargers(chargers, of),
    odds: (wanted, twins, tell) => ready().odds(wanted, twins, proxy(tell)),
    cancel: () => (remote ? remote.cancel() : Promise.resolve()),
    end: () => worker?.terminate(),
  };
}

/** Rehearses in a worker. */
export function useRehearsal(comparison: Comparison | null, twins: number): RehearsalState {
  const [{ work, rehearser }] = useState(() => {
    const inWorker = workInWorker();
    return { work: inWorker, rehearser: new Rehearser(inWorker) };
  });
  useEffect(() => work.end, [work]);
  useEffect(() => void rehearser.ask(comparison, twins), [rehearser, comparison, twins]);
  const known = () => rehearser.shown;
  const shown = useSyncExternalStore(rehearser.subscribe, known, known);
  const cancel = useCallback(() => rehearser.cancel(), [rehearser]);
  return { ...shown, cancel, chargers: work.chargers };
}
