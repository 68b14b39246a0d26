import { useState } from 'react';
import { CHEMISTRIES, type ChemistryKey } from '../../../core/batteries/chemistry.ts';
import {
  CELL_FAULTS,
  type CellFault,
  chargeByEvidence,
  type ChargeEvidence,
  SULFATION,
  type Sulfation,
} from '../../../core/rehearsal/condition.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import {
  celsiusFromFahrenheit,
  fahrenheitFromCelsius,
  type TemperatureUnit,
} from '../../../core/quantities/quantity.ts';
import { Labelled } from '../../parts/Labelled.tsx';
import { DESCRIBED, type RehearsalSubject } from './subject.ts';

interface Props {
  subject: RehearsalSubject;
  jobs: readonly { id: string; name: string }[];
  temperatureUnit: TemperatureUnit;
  onJob: (id: string | null) => void;
  onChange: (subject: RehearsalSubject) => void;
}

/** Which battery is rehearsed, and what is known of its condition. */
export function SubjectForm({ subject, jobs, temperatureUnit, onJob, onChange }: Props) {
  const { battery, condition } = subject;
  const chemistry = CHEMISTRIES[battery.chemistry];
  const charge = chargeByEvidence(condition.charge, battery.cells, chemistry);
  const set = (change: Partial<RehearsalSubject['condition']>) =>
    onChange({ ...subject, condition: { ...condition, ...change } });
  const size = (change: Partial<RehearsalSubject['battery']>) =>
    onChange({ ...subject, battery: { ...battery, ...change } });
  const evidenceOf = (by: ChargeEvidence['by']): ChargeEvidence => {
    if (by === 'volts') return { by, restV: battery.cells * 2.05 };
    if (by === 'sg') return { by, sg: 1.2 };
    return by === 'percent' ? { by, percent: Math.round((charge ?? 0.5) * 100) } : { by };
  };
  const toShop = (c: number) => (temperatureUnit === 'F' ? fahrenheitFromCelsius(c) : c);
  const fromShop = (t: number) => (temperatureUnit === 'F' ? celsiusFromFahrenheit(t) : t);
  const degrees = `°${temperatureUnit}`;
  return (
    <form
      onSubmit={(e) => e.preventDefault()}
      className="flex flex-wrap items-start gap-2"
      aria-label="The battery"
    >
      <Choice
        label="Battery"
        width="w-44"
        value={subject.jobId ?? ''}
        options={[['', 'Described here'], ...jobs.map((j) => [j.id, j.name] as const)]}
        onChange={(id) => onJob(id || null)}
      />
      {subject.jobId === null && (
        <>
          <Choice
            label="Family"
            width="w-[6.7rem]"
            value={battery.chemistry}
            options={Object.values(CHEMISTRIES).map((c) => [c.key, c.name])}
            onChange={(key) => size({ chemistry: key as ChemistryKey })}
          />
          <Choice
            label="Volts"
            width="w-[5.2rem]"
            value={String(battery.cells)}
            options={[1, 2, 3, 4, 6, 12].map((n) => [String(n), `${2 * n} V`])}
            onChange={(cells) =>
              onChange({
                ...subject,
                battery: { ...battery, cells: Number(cells) },
                condition: {
                  ...condition,
                  charge: { by: 'percent', percent: Math.round((charge ?? 0.5) * 100) },
                },
              })
            }
          />
          <NumberField
            label="C20"
            unit="Ah"
            value={battery.c20Ah}
            decimals={0}
            range={[1, 300]}
            onChange={(c20Ah) => size({ c20Ah })}
          />
        </>
      )}
      <Choice
        label="Charge known by"
        width="w-[7.6rem]"
        value={condition.charge.by}
        options={[
          ['volts', 'Rest volts'],
          ['sg', 'SG'],
          ['percent', 'Percent'],
          ['nothing', 'Not known'],
        ]}
        onChange={(by) => set({ charge: evidenceOf(by as ChargeEvidence['by']) })}
      />
      {condition.charge.by === 'volts' && (
        <NumberField
          label={`Rest = ${Math.round((charge ?? 0) * 100)} %`}
          unit="V"
          value={condition.charge.restV}
          decimals={2}
          range={[battery.cells * 1.5, battery.cells * 2.25]}
          onChange={(restV) => set({ charge: { by: 'volts', restV } })}
        />
      )}
      {condition.charge.by === 'sg' && (
        <NumberField
          label={`SG = ${Math.round((charge ?? 0) * 100)} %`}
          unit="SG"
          quantity="specificGravity"
          value={condition.charge.sg}
          decimals={3}
          range={[1.02, 1.34]}
          onChange={(sg) => set({ charge: { by: 'sg', sg } })}
        />
      )}
      {condition.charge.by === 'percent' && (
        <NumberField
          label="Charge"
          unit="%"
          value={condition.charge.percent}
          decimals={0}
          range={[0, 100]}
          onChange={(percent) => set({ charge: { by: 'percent', percent } })}
        />
      )}
      <Choice
        label="Hard sulfate"
        width="w-[7rem]"
        value={condition.sulfation}
        options={named(SULFATION)}
        onChange={(key) => set({ sulfation: key as Sulfation })}
      />
      <Choice
        label="A cell at fault"
        width="w-[7.8rem]"
        value={condition.fault}
        options={named(CELL_FAULTS)}
        onChange={(key) => set({ fault: key as CellFault })}
      />
      <NumberField
        label="It is at"
        unit={degrees}
        value={toShop(condition.temperatureC)}
        decimals={0}
        range={[toShop(-10), toShop(45)]}
        onChange={(t) => set({ temperatureC: fromShop(t) })}
      />
      <NumberField
        label="Room"
        unit={degrees}
        value={toShop(subject.roomC)}
        decimals={0}
        range={[toShop(-10), toShop(45)]}
        onChange={(t) => onChange({ ...subject, roomC: fromShop(t) })}
      />
      {subject.jobId !== null && (
        <button
          type="button"
          className="act-quiet mt-6"
          onClick={() =>
            onChange({ ...DESCRIBED, battery: { ...battery }, condition, roomC: subject.roomC })
          }
        >
          Describe another
        </button>
      )}
    </form>
  );
}

const named = (choices: Readonly<Record<string, { name: string }>>) =>
  Object.entries(choices).map(([key, { name }]) => [key, name] as const);

interface ChoiceProps {
  label: string;
  width: string;
  value: string;
  options: readonly (readonly [value: string, name: string])[];
  onChange: (value: string) => void;
}

function Choice({ label, width, value, options, onChange }: ChoiceProps) {
  return (
    <div className={`${width} flex-auto`}>
      <Labelled label={label}>
        <select className="field px-2!" value={value} onChange={(e) => onChange(e.target.value)}>
          {options.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </Labelled>
    </div>
  );
}

interface NumberProps {
  label: string;
  unit: string;
  value: number;
  decimals: number;
  range: readonly [number, number];
  quantity?: 'specificGravity';
  onChange: (value: number) => void;
}

/** A number that counts as soon as it makes sense; what does not is said below and changes nothing. */
function NumberField({ label, unit, value, decimals, range, quantity, onChange }: NumberProps) {
  const [text, setText] = useState<string | null>(null);
  const read = (typed: string): number => {
    if (quantity) {
      const parsed = parseReading(typed, quantity);
      return parsed.ok ? parsed.value : Number.NaN;
    }
    return typed.trim() === '' ? Number.NaN : Number(typed.trim().replace(',', '.'));
  };
  const off = text !== null && !(read(text) >= range[0] && read(text) <= range[1]);
  return (
    <div className={`flex-auto ${decimals >= 2 ? 'w-24' : 'w-[4.6rem]'}`}>
      <Labelled
        label={label}
        message={off ? `${range[0].toFixed(decimals)} to ${range[1].toFixed(decimals)}` : undefined}
      >
        <span className="relative block">
          <input
            className="field pr-8 pl-2! font-label text-xl! font-semibold"
            inputMode="decimal"
            autoComplete="off"
            aria-invalid={off}
            value={text ?? value.toFixed(decimals)}
            onChange={(e) => {
              setText(e.target.value);
              const number = read(e.target.value);
              if (number >= range[0] && number <= range[1]) onChange(number);
            }}
            onBlur={() => setText(null)}
          />
          <span aria-hidden className="absolute top-1/2 right-2 -translate-y-1/2 text-soft">
            {unit}
          </span>
        </span>
      </Labelled>
    </div>
  );
}
