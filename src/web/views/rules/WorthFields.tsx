import type { HouseRules } from '../../../core/house/rules.ts';
import type { SetScales } from '../../../core/house/setScales.ts';
import { Labelled } from '../../parts/Labelled.tsx';
import { SCALES, STAKES, type StakeRule } from './ruleFields.ts';

interface MoneyProps {
  draft: HouseRules;
  onDraft: (draft: HouseRules) => void;
  stakes: Record<StakeRule, string>;
  onStakes: (stakes: Record<StakeRule, string>) => void;
  fault: (field: string) => string | undefined;
}

/** What hands, places and batteries are worth; by this the routes of a recovery are weighed. */
export function MoneyFields({ draft, onDraft, stakes, onStakes, fault }: MoneyProps) {
  return (
    <fieldset className="grid gap-3 border-t border-line pt-3 sm:grid-cols-4">
      <legend className="float-left mb-2 w-full font-label text-xl font-semibold sm:col-span-4">
        What time and batteries are worth
      </legend>
      <p className="-mt-1 text-soft sm:col-span-4">
        Routes of a recovery are weighed in money: a returned battery at 65 % of a new one, light
        duty at 25 %, less work and places. Recycling at once is 0.
      </p>
      <Labelled label="Money in" message={fault('stakes.currency')}>
        <input
          className="field"
          maxLength={4}
          value={draft.stakes.currency}
          onChange={(e) =>
            onDraft({ ...draft, stakes: { ...draft.stakes, currency: e.target.value } })
          }
        />
      </Labelled>
      {STAKES.map(({ field, label }) => (
        <Labelled key={field} label={label} message={fault(`stakes.${field}`)}>
          <input
            className="field"
            inputMode="decimal"
            value={stakes[field]}
            onChange={(e) => onStakes({ ...stakes, [field]: e.target.value })}
          />
        </Labelled>
      ))}
    </fieldset>
  );
}

interface SetProps {
  scales: Record<keyof SetScales, string>;
  onScales: (scales: Record<keyof SetScales, string>) => void;
  fault: (field: string) => string | undefined;
}

/** How alike the batteries of a set must be. */
export function SetFields({ scales, onScales, fault }: SetProps) {
  return (
    <fieldset className="grid gap-3 border-t border-line pt-3 sm:grid-cols-5">
      <legend className="float-left mb-2 w-full font-label text-xl font-semibold sm:col-span-5">
        How alike a set must be
      </legend>
      <p className="-mt-1 text-soft sm:col-span-5">
        A difference of this much counts as 1; smaller weighs more. Two batteries further apart than
        the limit never share a set.
      </p>
      {SCALES.map(({ field, label }) => (
        <Labelled key={field} label={label} message={fault(`sets.${field}`)}>
          <input
            className="field"
            inputMode="decimal"
            value={scales[field]}
            onChange={(e) => onScales({ ...scales, [field]: e.target.value })}
          />
        </Labelled>
      ))}
    </fieldset>
  );
}
