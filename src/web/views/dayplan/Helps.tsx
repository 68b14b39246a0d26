import { chanceWords } from '../../../core/quantities/chance.ts';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { supposedWords } from '../../../core/dayplan/planWords.ts';
import type { Supposed } from '../../../core/dayplan/suppose.ts';
import type { ToldPlan, ToldWork } from '../../../core/dayplan/told.ts';
import type { WallStyle } from '../../../core/quantities/format.ts';
import { ask } from '../../line/api.ts';

interface Props {
  plan: ToldPlan;
  work: ToldWork;
  wall: WallStyle;
  onSuppose: (supposed: Supposed) => void;
}

/** What would make an unsafe promise safer, and who would pay for it; each leads to the plan as it would be. */
export function Helps({ plan, work, wall, onSuppose }: Props) {
  const [open, setOpen] = useState(false);
  const { data } = useQuery({
    queryKey: ['promiseHelps', work.id, plan.from],
    queryFn: () => ask('promiseHelps', { params: { id: work.id } }),
    enabled: open,
  });
  if (!open)
    return (
      <button type="button" className="wordlink min-h-11 pb-1" onClick={() => setOpen(true)}>
        What would help?
      </button>
    );
  if (!data) return <p className="min-h-11 text-soft">Trying …</p>;
  if (data.helps.length === 0)
    return (
      <p className="pb-2 text-soft">
        Going first, another charger or an hour more would not keep it. Say so today.
      </p>
    );
  return (
    <ul className="grid gap-1 pb-2">
      {data.helps.map(({ supposed, kept, suffers }) => (
        <li key={JSON.stringify(supposed)}>
          <button
            type="button"
            className="wordlink min-h-11 text-left"
            onClick={() => onSuppose(supposed)}
          >
            {supposedWords(plan, supposed, wall)}: {chanceWords(kept)}
          </button>
          {suffers.length > 0 && (
            <span className="block text-[15px] text-oxide">
              {suffers.map((s) => `${s.tag} falls to ${chanceWords(s.after)}`).join(', ')}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
