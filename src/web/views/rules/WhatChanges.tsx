import { useDeferredValue, useMemo } from 'react';
import type { HouseRules } from '../../../core/house/rules.ts';
import { whatChanges } from '../../../core/watch/whatChanges.ts';
import { useModels } from '../../line/queries.ts';

const SHOWN_MODELS = 4;

interface Props {
  before: HouseRules;
  after: HouseRules;
  /** Say so when nothing moves: where a rule that moves numbers was changed. */
  tell: boolean;
}

/** Which numbers of new jobs a draft of the rules would move, and for which models. */
export function WhatChanges({ before, after, tell }: Props) {
  const { data: models } = useModels();
  const draft = useDeferredValue(after);
  const changes = useMemo(() => {
    const usable = (models ?? []).map(({ id: _, ...model }) => model);
    return whatChanges(usable, before, draft);
  }, [models, before, draft]);
  if (changes.length === 0 && !tell) return null;
  if (changes.length === 0)
    return (
      <p className="rounded-lg border-2 border-ink bg-sheet px-4 py-2 text-lg">
        No number of a new job moves with this.
      </p>
    );
  return (
    <section
      aria-label="What changes"
      className="max-h-[38dvh] overflow-y-auto rounded-lg border-2 border-ink bg-sheet px-4 py-2 shadow-[0_-4px_18px_#211c1722]"
    >
      <h2 className="text-xl">What changes in new jobs</h2>
      <ul className="mt-1">
        {changes.map((c) => (
          <li
            key={`${c.label}${c.from}${c.to}`}
            className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1 text-lg"
          >
            <span className="min-w-44">{c.label}</span>
            <span>
              <span className="text-soft line-through">{c.from}</span> <b>{c.to}</b>
            </span>
            <span className="ml-auto text-soft">
              {c.models.slice(0, SHOWN_MODELS).join(', ')}
              {c.models.length > SHOWN_MODELS && ` and ${c.models.length - SHOWN_MODELS} more`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
