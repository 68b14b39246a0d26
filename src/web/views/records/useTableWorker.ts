import { type Remote, wrap } from 'comlink';
import { useCallback, useEffect, useRef } from 'react';
import type { TableWorker } from '../../workers/table.worker.ts';

/** A worker that reads one file. Cancelling ends it, whatever it is at; the next call begins anew. */
export function useTableWorker(): { worker: () => Remote<TableWorker>; cancel: () => void } {
  const held = useRef<{ worker: Worker; api: Remote<TableWorker> } | null>(null);
  const cancel = useCallback(() => {
    held.current?.worker.terminate();
    held.current = null;
  }, []);
  useEffect(() => cancel, [cancel]);
  const worker = useCallback(() => {
    if (!held.current) {
      const made = new Worker(new URL('../../workers/table.worker.ts', import.meta.url), {
        type: 'module',
      });
      held.current = { worker: made, api: wrap<TableWorker>(made) };
    }
    return held.current.api;
  }, []);
  return { worker, cancel };
}
