import { useState } from 'react';
import {
  type ChargerFacts,
  type ChargerStanding,
  SHOWN,
  type Shown,
} from '../../../core/chargers/charger.ts';
import { STANDING_WORDS } from '../../../core/chargers/fitWords.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Toggles } from './Toggles.tsx';
import { Lights, Programs } from './ChargerPrograms.tsx';

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
const STANDINGS = Object.entries(STANDING_WORDS) as [ChargerStanding, string][];

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
        <Choice
          label="Status"
          value={facts.standing}
          options={STANDINGS}
          onChange={(standing) => set({ standing })}
        />
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
