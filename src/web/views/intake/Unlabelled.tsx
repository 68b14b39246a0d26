import type { ReactNode } from 'react';
import { BUILDS } from '../../../core/batteries/builds.ts';
import { CASE_KEYS, CASES, type CaseKey } from '../../../core/batteries/cases.ts';
import { CARRIED, CARRIED_KEYS, guessSize } from '../../../core/batteries/guessSize.ts';
import { kindOf } from '../../../core/batteries/kinds.ts';
import { BUILD_KEYS, CCA_STANDARDS } from '../../../core/batteries/model.ts';
import { useRules, useSay } from '../../line/queries.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { KindPicker } from './KindPicker.tsx';
import { batteryOf, type UnlabelledField, type UnlabelledTexts } from './unlabelledForm.ts';

/** A battery without a readable label: its kind by pictures, and whatever tells its size. */
export function Unlabelled({
  texts,
  faults,
  onChange,
}: {
  texts: UnlabelledTexts;
  faults: Partial<Record<UnlabelledField, string>>;
  onChange: (changed: Partial<UnlabelledTexts>) => void;
}) {
  const rules = useRules();
  const { battery } = batteryOf(texts, rules);
  const kind = kindOf(texts.kind);
  const number = (field: UnlabelledField, label: string): ReactNode => (
    <Labelled label={label} message={faults[field]}>
      <input
        className="field"
        inputMode="decimal"
        autoComplete="off"
        value={texts[field]}
        aria-invalid={!!faults[field]}
        onChange={(e) => onChange({ [field]: e.target.value })}
      />
    </Labelled>
  );
  return (
    <div className="grid gap-3">
      <KindPicker value={texts.kind} onChange={(key) => onChange({ kind: key })} />
      {!('refusal' in kind) && (
        <>
          <div className="grid grid-cols-2 gap-3">
            <Choice
              label="Volts and cells"
              value={texts.cells}
              options={[
                [6, '12 V, 6 cells'],
                [3, '6 V, 3 cells'],
              ]}
              onChange={(cells) => onChange({ cells: cells as 3 | 6 })}
            />
            <Choice
              label="Built for"
              value={texts.build}
              options={[
                ['', 'Not known'],
                ...BUILD_KEYS.map((key) => [key, BUILDS[key].name] as const),
              ]}
              onChange={(build) => onChange({ build: build as UnlabelledTexts['build'] })}
            />
          </div>
          {texts.kind === 'flooded-dry' && (
            <Choice
              label="Caps"
              value={texts.caps}
              options={[
                ['screw', 'Screw caps'],
                ['pull', 'Pull caps or a strip'],
              ]}
              onChange={(caps) => onChange({ caps: caps as UnlabelledTexts['caps'] })}
            />
          )}
          <fieldset className="grid gap-3 rounded-md bg-hair p-3">
            <legend className="label float-left w-full pb-1">
              How large? Fill in what can be read or measured; all of it may stay empty
            </legend>
            <div className="clear-both grid grid-cols-3 gap-3">
              {number('cca', 'CCA, A')}
              <Choice
                label="Standard"
                value={texts.ccaStandard}
                options={CCA_STANDARDS.map((s) => [s, s] as const)}
                onChange={(ccaStandard) =>
                  onChange({ ccaStandard: ccaStandard as UnlabelledTexts['ccaStandard'] })
                }
              />
              {number('reserveMin', 'Reserve, min')}
              {number('printedAh', 'Capacity, Ah')}
              {number('massKg', rules.volumeUnit === 'oz' ? 'Weight, lb' : 'Weight, kg')}
              <Choice
                label="Case code"
                value={texts.caseCode}
                options={[
                  ['', 'Not read'],
                  ...CASE_KEYS.map((key) => [key as CaseKey, CASES[key].name] as const),
                ]}
                onChange={(caseCode) =>
                  onChange({ caseCode: caseCode as UnlabelledTexts['caseCode'] })
                }
              />
              {number('lengthCm', 'Length, cm')}
              {number('widthCm', 'Width, cm')}
              {number('heightCm', 'Height, cm')}
            </div>
            <Choice
              label="Nothing of that: how is it carried?"
              value={texts.carried}
              options={[
                ['', 'Not said'],
                ...CARRIED_KEYS.map(
                  (key) =>
                    [key, `${CARRIED[key].name}: usually ${CARRIED[key].ah.join('–')} Ah`] as const,
                ),
              ]}
              onChange={(carried) => onChange({ carried: carried as UnlabelledTexts['carried'] })}
            />
            <Guess battery={battery} />
          </fieldset>
        </>
      )}
    </div>
  );
}

/** What is worked out from it, at once. */
function Guess({ battery }: { battery: Parameters<typeof guessSize>[0] }) {
  const say = useSay();
  const { c20Ah, low, high, said, disagree } = guessSize(battery);
  return (
    <div aria-live="polite">
      <p className="text-lg">
        <span className="label block">Capacity, C20, estimated</span>
        <b className="font-label text-3xl font-semibold">
          {low}–{high} <small className="text-xl font-medium text-soft">Ah</small>
        </b>{' '}
        <span className="text-soft">
          most likely {c20Ah} Ah,{' '}
          {said.length > 0
            ? `from ${said.map((s) => say(s.from)).join(' and ')}`
            : 'from its kind alone'}
        </span>
      </p>
      {disagree && (
        <p role="alert" className="mt-1 rounded-md bg-ochre-pale px-3 py-2 text-lg">
          {disagree[0]} and {disagree[1]} do not go together. Is one of them misread?
        </p>
      )}
    </div>
  );
}
