import { useState } from 'react';
import type { Problem } from '../../contract/wire.ts';
import type { ChargerFacts } from '../../core/chargers/charger.ts';
import { ask, problemOf } from './api.ts';
import { newId } from './newId.ts';
import { queryClient } from './queries.ts';
import { useSigning } from './signing.tsx';

/** Writes down a charger, or takes it off the wall; what it was turned away with stands until the next try. */
export function useSaveCharger() {
  const { sign } = useSigning();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [saving, setSaving] = useState(false);
  const signed = async (send: (by: string) => Promise<unknown>): Promise<boolean> => {
    const by = await sign();
    if (!by) return false;
    setSaving(true);
    setProblem(null);
    try {
      await send(by);
      await queryClient.invalidateQueries({ queryKey: ['chargers'] });
      return true;
    } catch (error) {
      setProblem(problemOf(error));
      return false;
    } finally {
      setSaving(false);
    }
  };
  return {
    problem,
    saving,
    /** @param id null for a new one */
    save: (id: string | null, charger: ChargerFacts) =>
      signed((by) => {
        const body = { commandId: newId(), by, charger };
        return id === null
          ? ask('addCharger', { body })
          : ask('changeCharger', { params: { id }, body });
      }),
    remove: (id: string) =>
      signed((by) => ask('removeCharger', { params: { id }, body: { commandId: newId(), by } })),
  };
}
