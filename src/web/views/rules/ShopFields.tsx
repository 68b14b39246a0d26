import { sayIn } from '../../../core/quantities/shopUnits.ts';
import { type HouseRules, SG_REFERENCES } from '../../../core/house/rules.ts';
import type { TemperatureUnit } from '../../../core/quantities/quantity.ts';
import { StyleFields } from '../../inputs/StyleFields.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { keptNumber, NUMBERS, type NumberRule, typedNumber } from './ruleFields.ts';

interface Props {
  draft: HouseRules;
  onDraft: (draft: HouseRules) => void;
  numbers: Record<NumberRule, string>;
  onNumbers: (numbers: Record<NumberRule, string>) => void;
  fault: (field: string) => string | undefined;
}

/** Name, units, paper and room of the shop. */
export function ShopFields({ draft, onDraft, numbers, onNumbers, fault }: Props) {
  /** What is typed already means the same in the other unit. */
  const inUnit = (unit: TemperatureUnit) =>
    onNumbers(
      Object.fromEntries(
        NUMBERS.map((rule) => {
          const kept = keptNumber(rule, numbers[rule.field], draft.temperatureUnit);
          return [rule.field, typedNumber(rule, kept, unit)];
        }),
      ) as typeof numbers,
    );
  return (
    <fieldset className="grid gap-3 border-t border-line pt-3 sm:grid-cols-3">
      <legend className="sr-only">The shop</legend>
      <Labelled label="Name, for the sheet" message={fault('shopName')}>
        <input
          className="field"
          value={draft.shopName}
          onChange={(e) => onDraft({ ...draft, shopName: e.target.value })}
        />
      </Labelled>
      <StyleFields
        style={draft}
        zoneFault={fault('timeZone')}
        onChange={(changed) => {
          onDraft({ ...draft, ...changed });
          if (changed.temperatureUnit) inUnit(changed.temperatureUnit);
        }}
      />
      <Choice
        label="SG printed at"
        value={draft.sgReferenceC}
        options={SG_REFERENCES.map((c) => [c, c === 26.7 ? '80 °F' : sayIn(`${c} °C`, draft)])}
        onChange={(sgReferenceC) => onDraft({ ...draft, sgReferenceC })}
      />
      {NUMBERS.map(({ field, label, degrees }) => (
        <Labelled
          key={field}
          label={degrees ? `${label}, °${draft.temperatureUnit}` : label}
          message={fault(field)}
        >
          <input
            className="field"
            inputMode="decimal"
            value={numbers[field]}
            onChange={(e) => onNumbers({ ...numbers, [field]: e.target.value })}
          />
        </Labelled>
      ))}
    </fieldset>
  );
}
