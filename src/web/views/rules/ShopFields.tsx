import {
  type HouseRules,
  PAPERS,
  SG_REFERENCES,
  type WorkingHours,
} from '../../../core/house/rules.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { clockOf, DAYS, NUMBERS, type NumberRule } from './ruleFields.ts';

interface Props {
  draft: HouseRules;
  onDraft: (draft: HouseRules) => void;
  numbers: Record<NumberRule, string>;
  onNumbers: (numbers: Record<NumberRule, string>) => void;
  fault: (field: string) => string | undefined;
}

/** Name, units, paper, room and hours of the shop. */
export function ShopFields({ draft, onDraft, numbers, onNumbers, fault }: Props) {
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
      <Labelled label="Time zone" message={fault('timeZone')}>
        <input
          className="field"
          list="zones"
          value={draft.timeZone}
          onChange={(e) => onDraft({ ...draft, timeZone: e.target.value })}
        />
        <datalist id="zones">
          {Intl.supportedValuesOf('timeZone').map((z) => (
            <option key={z} value={z} />
          ))}
        </datalist>
      </Labelled>
      <Choice
        label="Temperatures in"
        value={draft.temperatureUnit}
        options={[
          ['C', '°C'],
          ['F', '°F'],
        ]}
        onChange={(temperatureUnit) => onDraft({ ...draft, temperatureUnit })}
      />
      <Choice
        label="Volumes in"
        value={draft.volumeUnit}
        options={[
          ['mL', 'mL'],
          ['oz', 'US fluid ounces'],
        ]}
        onChange={(volumeUnit) => onDraft({ ...draft, volumeUnit })}
      />
      <Choice
        label="SG printed at"
        value={draft.sgReferenceC}
        options={SG_REFERENCES.map((c) => [c, c === 26.7 ? '80 °F' : `${c} °C`])}
        onChange={(sgReferenceC) => onDraft({ ...draft, sgReferenceC })}
      />
      <Choice
        label="Paper"
        value={draft.paper}
        options={PAPERS.map((paper) => [paper, paper])}
        onChange={(paper) => onDraft({ ...draft, paper })}
      />
      {NUMBERS.map(({ field, label }) => (
        <Labelled key={field} label={label} message={fault(field)}>
          <input
            className="field"
            inputMode="decimal"
            value={numbers[field]}
            onChange={(e) => onNumbers({ ...numbers, [field]: e.target.value })}
          />
        </Labelled>
      ))}
      <Hours
        hours={draft.hours}
        fault={fault('hours.to') ?? fault('hours.from')}
        onChange={(hours) => onDraft({ ...draft, hours })}
      />
    </fieldset>
  );
}

const minutesOf = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

/** When hands are at the bench; ready times count on nobody outside these hours. */
function Hours({
  hours,
  fault,
  onChange,
}: {
  hours: WorkingHours;
  fault: string | undefined;
  onChange: (next: WorkingHours) => void;
}) {
  const time = (label: string, key: 'from' | 'to') => (
    <label>
      <span className="label">{label}</span>
      <input
        type="time"
        className="field"
        value={clockOf(hours[key])}
        onChange={(e) => e.target.value && onChange({ ...hours, [key]: minutesOf(e.target.value) })}
      />
    </label>
  );
  return (
    <div className="sm:col-span-3">
      <div className="flex flex-wrap items-end gap-3">
        {time('Hands at the bench from', 'from')}
        {time('until', 'to')}
        <div role="group" aria-label="Days" className="flex flex-wrap gap-1.5">
          {DAYS.map((day, i) => (
            <button
              key={day}
              type="button"
              aria-pressed={hours.days[i] ?? false}
              className={`act-quiet min-w-14 px-2! ${hours.days[i] ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() =>
                onChange({ ...hours, days: hours.days.map((d, j) => (j === i ? !d : d)) })
              }
            >
              {day}
            </button>
          ))}
        </div>
      </div>
      {fault && <span className="mt-1 block text-[15px] text-oxide">{fault}</span>}
    </div>
  );
}
