import { CHEMISTRIES, type ChemistryKey } from '../../../core/batteries/chemistry.ts';
import type { ChargerLight, ChargerProgram } from '../../../core/chargers/charger.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Toggles } from './Toggles.tsx';

const FAMILIES = Object.keys(CHEMISTRIES) as ChemistryKey[];
const ENDS: readonly (readonly [ChargerProgram['ends'], string])[] = [
  ['stops', 'switches off'],
  ['floats', 'floats'],
  ['never', 'never ends'],
];
const MEANS: readonly (readonly [ChargerLight['means'], string])[] = [
  ['charging', 'Charging'],
  ['full', 'Full'],
  ['error', 'Error'],
  ['waiting', 'Waiting for a battery'],
];

/** What it does by itself, program by program. */
export function Programs({
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
            <Choice
              label="At the end it"
              value={p.ends}
              options={ENDS}
              onChange={(ends) =>
                change(i, { ends, ceilingV: ends === 'never' ? null : (p.ceilingV ?? 14.4) })
              }
            />
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

/** What its lights mean, as its sheet says. */
export function Lights({
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
            <Choice
              label="Means"
              value={l.means}
              options={MEANS}
              onChange={(means) => change(i, { means })}
            />
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
