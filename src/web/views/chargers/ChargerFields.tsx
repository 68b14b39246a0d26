import { useState } from 'react';
import { CHEMISTRIES, type ChemistryKey } from '../../../core/batteries/chemistry.ts';
import {
  type ChargerFacts,
  type ChargerLight,
  type ChargerProgram,
  type ChargerStanding,
  SHOWN,
  type Shown,
} from '../../../core/chargers/charger.ts';
import { STANDING_WORDS } from '../../../core/chargers/fitWords.ts';
import { Labelled } from '../../parts/Labelled.tsx';

interface Props {
  facts: ChargerFacts;
  onChange: (facts: ChargerFacts) => void;
  fault: (field: string) => string | undefined;
}

const SHOWN_WORDS: Record<Shown, string> = {
  amps: 'Current',
  volts: 'Voltage',
  percent: 'Percent',
  lights: 'Lights',
};
const FAMILIES = Object.keys(CHEMISTRIES) as ChemistryKey[];
const ENDS: Record<ChargerProgram['ends'], string> = {
  stops: 'switches off',
  floats: 'floats',
  never: 'never ends',
};
const MEANS: Record<ChargerLight['means'], string> = {
  charging: 'Charging',
  full: 'Full',
  error: 'Error',
  waiting: 'Waiting for a battery',
};

/** What can be set on a charger, what it does by itself, and what it shows. */
export function ChargerFields({ facts, onChange, fault }: Props) {
  const set = (part: Partial<ChargerFacts>) => onChange({ ...facts, ...part });
  const { range } = facts;
  return (
    <>
      <fieldset className={`grid gap-3 ${range ? 'sm:grid-cols-3' : 'sm:grid-cols-4'}`}>
        <legend className="eyebrow mb-1">What can be set</legend>
        {range ? (
          <>
            <NumberField
              label="Lowest current, A"
              value={range.leastA}
              message={fault('range.leastA')}
              onChange={(leastA) => set({ range: { ...range, leastA } })}
            />
            <NumberField
              label="Highest current, A"
              value={range.mostA}
              message={fault('range.mostA')}
              onChange={(mostA) => set({ range: { ...range, mostA } })}
            />
            <NumberField
              label="Highest voltage, V"
              value={range.mostV}
              message={fault('range.mostV')}
              onChange={(mostV) => set({ range: { ...range, mostV } })}
            />
          </>
        ) : (
          <Settings facts={facts} message={fault('settings')} onChange={set} />
        )}
        <NumberField
          label="Starts on 12 V from, V"
          value={facts.startsV}
          message={fault('startsV')}
          onChange={(startsV) => set({ startsV })}
        />
        <NumberField
          label="Batteries at a time"
          value={facts.outputs}
          message={fault('outputs')}
          onChange={(outputs) => set({ outputs })}
        />
        <Labelled label="Status">
          <select
            className="field"
            value={facts.standing}
            onChange={(e) => set({ standing: e.target.value as ChargerStanding })}
          >
            {Object.entries(STANDING_WORDS).map(([key, word]) => (
              <option key={key} value={key}>
                {word}
              </option>
            ))}
          </select>
        </Labelled>
      </fieldset>
      <div className="flex flex-wrap gap-x-8 gap-y-3">
        <Toggles
          legend="Batteries"
          options={[6, 12] as const}
          word={(v) => `${v} V`}
          chosen={facts.volts}
          onChange={(volts) => set({ volts })}
        />
        <Toggles
          legend="It shows"
          options={SHOWN}
          word={(s) => SHOWN_WORDS[s]}
          chosen={facts.shows}
          onChange={(shows) => set({ shows })}
        />
      </div>
      {!range && <Programs programs={facts.programs} onChange={(programs) => set({ programs })} />}
      {facts.shows.includes('lights') && (
        <Lights lights={facts.lights} onChange={(lights) => set({ lights })} />
      )}
    </>
  );
}

/** Positions of its switch, typed one after another. */
function Settings({
  facts,
  message,
  onChange,
}: {
  facts: ChargerFacts;
  message: string | undefined;
  onChange: (part: Partial<ChargerFacts>) => void;
}) {
  const [text, setText] = useState(() => facts.settings.map((s) => s.amps).join(' / '));
  const boost = facts.settings.find((s) => s.boost);
  const read = (typed: string) => {
    setText(typed);
    const amps = typed
      .split(/[/;]|\s+|,(?=\s)/)
      .map((part) => Number(part.trim().replace(',', '.').replace(/a$/i, '')))
      .filter((n) => Number.isFinite(n) && n > 0);
    onChange({
      settings: [...new Set(amps)].map((a) =>
        a === boost?.amps ? boost : { name: `${a} A`, amps: a, boost: false },
      ),
    });
  };
  return (
    <Labelled label="Settings, A (2 / 10)" message={message}>
      <input
        className="field"
        inputMode="text"
        value={text}
        onChange={(e) => read(e.target.value)}
      />
      {boost && (
        <span className="text-[15px] text-soft">{boost.amps} A is boost: never offered.</span>
      )}
    </Labelled>
  );
}

function Programs({
  programs,
  onChange,
}: {
  programs: readonly ChargerProgram[];
  onChange: (programs: ChargerProgram[]) => void;
}) {
  const change = (index: number, part: Partial<ChargerProgram>) =>
    onChange(programs.map((p, i) => (i === index ? { ...p, ...part } : p)));
  return (
    <fieldset>
      <legend className="eyebrow mb-1">Programs</legend>
      <ul className="grid gap-3">
        {programs.map((p, i) => (
          <li key={i} className="grid gap-x-3 gap-y-1 rounded-md bg-hair p-3 sm:grid-cols-4">
            <Labelled label="Name">
              <input
                className="field"
                maxLength={40}
                value={p.name}
                onChange={(e) => change(i, { name: e.target.value })}
              />
            </Labelled>
            <Labelled label="At the end it">
              <select
                className="field"
                value={p.ends}
                onChange={(e) => {
                  const ends = e.target.value as ChargerProgram['ends'];
                  change(i, { ends, ceilingV: ends === 'never' ? null : (p.ceilingV ?? 14.4) });
                }}
              >
                {Object.entries(ENDS).map(([key, word]) => (
                  <option key={key} value={key}>
                    {word}
                  </option>
                ))}
              </select>
            </Labelled>
            {p.ceilingV === null ? (
              <p className="self-end pb-3 text-soft">No voltage limit</p>
            ) : (
              <NumberField
                label="Voltage limit (12 V), V"
                value={p.ceilingV}
                message={undefined}
                onChange={(ceilingV) => change(i, { ceilingV })}
              />
            )}
            <button
              type="button"
              className="wordlink min-h-11 self-end text-soft"
              disabled={programs.length === 1}
              onClick={() => onChange(programs.filter((_, k) => k !== i))}
            >
              Remove<span className="sr-only"> program {p.name}</span>
            </button>
            <div className="flex flex-wrap items-center gap-x-4 sm:col-span-4">
              <Toggles
                legend={`For, ${p.name}`}
                quiet
                options={FAMILIES}
                word={(f) => CHEMISTRIES[f].name}
                chosen={p.families}
                onChange={(families) => change(i, { families })}
              />
              <label className="flex min-h-11 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={p.compensated}
                  onChange={(e) => change(i, { compensated: e.target.checked })}
                />
                corrects for temperature
              </label>
            </div>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="act-quiet mt-2"
        onClick={() =>
          onChange([
            ...programs,
            {
              name: `Program ${programs.length + 1}`,
              families: ['flooded'],
              ceilingV: 14.4,
              compensated: false,
              ends: 'floats',
            },
          ])
        }
      >
        Add a program
      </button>
    </fieldset>
  );
}

function Lights({
  lights,
  onChange,
}: {
  lights: readonly ChargerLight[];
  onChange: (lights: ChargerLight[]) => void;
}) {
  const change = (index: number, part: Partial<ChargerLight>) =>
    onChange(lights.map((l, i) => (i === index ? { ...l, ...part } : l)));
  return (
    <fieldset>
      <legend className="eyebrow mb-1">What its lights mean</legend>
      <ul className="grid gap-2">
        {lights.map((l, i) => (
          <li key={i} className="flex flex-wrap items-end gap-3">
            <Labelled label="Light">
              <input
                className="field"
                maxLength={40}
                value={l.light}
                onChange={(e) => change(i, { light: e.target.value })}
              />
            </Labelled>
            <Labelled label="Means">
              <select
                className="field"
                value={l.means}
                onChange={(e) => change(i, { means: e.target.value as ChargerLight['means'] })}
              >
                {Object.entries(MEANS).map(([key, word]) => (
                  <option key={key} value={key}>
                    {word}
                  </option>
                ))}
              </select>
            </Labelled>
            <button
              type="button"
              className="wordlink min-h-11 text-soft"
              onClick={() => onChange(lights.filter((_, k) => k !== i))}
            >
              Remove<span className="sr-only"> {l.light}</span>
            </button>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="act-quiet mt-2"
        onClick={() => onChange([...lights, { light: 'Yellow', means: 'charging' }])}
      >
        Add a light
      </button>
    </fieldset>
  );
}

/** Several of a few; at least one stays. */
function Toggles<T extends string | number>({
  legend,
  quiet = false,
  options,
  word,
  chosen,
  onChange,
}: {
  legend: string;
  quiet?: boolean;
  options: readonly T[];
  word: (option: T) => string;
  chosen: readonly T[];
  onChange: (chosen: T[]) => void;
}) {
  return (
    <fieldset>
      <legend className={quiet ? 'sr-only' : 'eyebrow mb-1'}>{legend}</legend>
      <div className="flex flex-wrap gap-x-4">
        {options.map((option) => {
          const on = chosen.includes(option);
          return (
            <label key={option} className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5"
                checked={on}
                disabled={on && chosen.length === 1}
                onChange={() =>
                  onChange(options.filter((o) => (o === option ? !on : chosen.includes(o))))
                }
              />
              {word(option)}
            </label>
          );
        })}
      </div>
    </fieldset>
  );
}

function NumberField({
  label,
  value,
  message,
  onChange,
}: {
  label: string;
  value: number;
  message: string | undefined;
  onChange: (value: number) => void;
}) {
  const [text, setText] = useState(String(value));
  return (
    <Labelled label={label} message={message}>
      <input
        className="field"
        inputMode="decimal"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          const number = Number(e.target.value.replace(',', '.'));
          if (e.target.value.trim() !== '' && Number.isFinite(number)) onChange(number);
        }}
      />
    </Labelled>
  );
}
