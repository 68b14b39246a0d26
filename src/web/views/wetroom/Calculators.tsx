import { useState } from 'react';
import {
  correctSg,
  parseStrength,
  sgFromWeightPercent,
  weightPercentFromSg,
} from '../../../core/electrolyte/concentration.ts';
import { freezingPointC } from '../../../core/electrolyte/freezing.ts';
import { mixAcid, mixingOrder, topUpEstimate } from '../../../core/electrolyte/mixing.ts';
import { neutraliser } from '../../../core/electrolyte/neutralising.ts';
import { restVoltageFromSg } from '../../../core/electrolyte/restVoltage.ts';
import { formatRise, formatTemperature, formatVolume } from '../../../core/quantities/format.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import type { QuantityKey } from '../../../core/quantities/quantity.ts';
import { useRules, useSay } from '../../line/queries.ts';
import { ReadingField } from '../../inputs/ReadingField.tsx';
import { Bay } from './Bay.tsx';

/** A typed quantity: its text, and its value where it is one. */
function useTyped(quantity: QuantityKey, initial: string) {
  const rules = useRules();
  const [text, setText] = useState(initial);
  const parsed = parseReading(text, quantity, rules);
  const message = parsed.ok || text.trim() === '' ? undefined : parsed.message;
  return {
    value: parsed.ok ? parsed.value : null,
    field: { quantity, value: text, onChange: setText, message },
  };
}

function Result({ label, value, aside }: { label: string; value: string; aside?: string }) {
  const say = useSay();
  return (
    <div>
      <dt className="label">{say(label)}</dt>
      <dd>
        <b className="big whitespace-nowrap">{say(value)}</b>
        {aside && <span className="block text-[15px] text-soft">{say(aside)}</span>}
      </dd>
    </div>
  );
}

/** Stronger acid and water for a wanted volume of a wanted gravity, by mass. */
export function Mix() {
  const { volumeUnit, temperatureUnit } = useRules();
  const say = useSay();
  const [strong, setStrong] = useState('1.400');
  const wanted = useTyped('specificGravity', '1.265');
  const volume = useTyped('volume', volumeUnit === 'oz' ? '68' : '2000');
  const room = useTyped('temperature', temperatureUnit === 'F' ? '77' : '25');
  const units = {
    volume: (ml: number) => formatVolume(ml, volumeUnit),
    rise: (celsius: number) => formatRise(celsius, temperatureUnit),
  };
  const { mixture, fault } = mixtureOf(strong, wanted.value, volume.value, room.value);
  return (
    <Bay title="Mix acid">
      <div className="flex flex-wrap items-start gap-3">
        <label className="w-44">
          <span className="label">{say('Acid in hand, SG at 25 °C or %')}</span>
          <input
            className="field font-label text-2xl font-semibold"
            value={strong}
            onChange={(e) => setStrong(e.target.value)}
          />
        </label>
        <ReadingField label={say('Wanted, at 25 °C')} {...wanted.field} />
        <ReadingField label="How much of it" {...volume.field} />
        <ReadingField label="All stand at" {...room.field} />
      </div>
      {fault && (
        <p role="alert" className="mt-3 rounded-md bg-ochre-pale px-4 py-2 text-lg">
          {say(fault)}
        </p>
      )}
      {mixture && (
        <>
          <dl className="mt-4 flex flex-wrap gap-x-10 gap-y-3">
            <Result
              label="Water first"
              value={formatVolume(mixture.waterMl, volumeUnit)}
              aside={`${mixture.waterG.toFixed(0)} g`}
            />
            <Result
              label="Then acid, into it"
              value={formatVolume(mixture.acidMl, volumeUnit)}
              aside={`${mixture.acidG.toFixed(0)} g`}
            />
            <Result
              label="Shrinks by"
              value={formatVolume(mixture.contractionMl, volumeUnit)}
              aside="volumes do not add up"
            />
            <Result
              label="Warms by about"
              value={
                mixture.pours > 1
                  ? `${mixture.pours} × ${units.rise(mixture.pourRisesC)}`
                  : units.rise(mixture.risesC)
              }
              aside={mixture.pours > 1 ? 'cooled between the pours' : 'if nothing is lost'}
            />
          </dl>
          <ol className="mt-3 grid gap-1.5">
            {mixingOrder(mixture, units).map((line, i) => (
              <li key={line} className={`flex gap-3 text-lg ${i === 1 ? 'font-semibold' : ''}`}>
                <span className="font-label text-soft">{i + 1}</span>
                <span className="max-w-[80ch]">{say(line)}</span>
              </li>
            ))}
          </ol>
          <p className="mt-2 text-soft">
            Goggles, gloves, apron; eyewash and bicarbonate within reach; ventilate. Densities after
            Perry’s handbook; heat after NBS Circular 500.
          </p>
        </>
      )}
    </Bay>
  );
}

function mixtureOf(strong: string, wanted: number | null, ml: number | null, roomC: number | null) {
  if (strong.trim() === '' || wanted === null || ml === null || roomC === null)
    return { mixture: null, fault: null };
  try {
    return { mixture: mixAcid(parseStrength(strong), wanted, ml, roomC), fault: null };
  } catch (error) {
    return { mixture: null, fault: (error as Error).message };
  }
}

/** A hydrometer reading brought to 25 °C and to the shop's reference, with what it means. */
export function CorrectSg() {
  const rules = useRules();
  const sg = useTyped('specificGravity', '1.252');
  const warmth = useTyped('temperature', rules.temperatureUnit === 'F' ? '95' : '35');
  const at25 =
    sg.value === null || warmth.value === null ? null : correctSg(sg.value, warmth.value);
  const inRange = at25 !== null && at25 >= 1 && at25 <= 1.49;
  const freezes = at25 === null ? null : freezingPointC(at25);
  return (
    <Bay title="Correct an SG">
      <div className="flex flex-wrap items-start gap-3">
        <ReadingField label="As read" {...sg.field} />
        <ReadingField label="Acid’s temperature" {...warmth.field} />
      </div>
      {at25 !== null && warmth.value !== null && sg.value !== null && (
        <dl className="mt-4 flex flex-wrap gap-x-8 gap-y-3">
          <Result label="At 25 °C" value={at25.toFixed(3)} aside="0.0007 for each °C (BCI)" />
          {rules.sgReferenceC !== 25 && (
            <Result
              label={`At ${rules.sgReferenceC} °C`}
              value={correctSg(sg.value, warmth.value, rules.sgReferenceC).toFixed(3)}
              aside="house reference"
            />
          )}
          {inRange && (
            <Result
              label="Strength"
              value={`${weightPercentFromSg(at25).toFixed(1)} %`}
              aside="acid by mass"
            />
          )}
          {inRange && at25 >= 1.05 && (
            <Result
              label="A rested cell"
              value={`${restVoltageFromSg(at25).toFixed(3)} V`}
              aside={`${(restVoltageFromSg(at25) * 6).toFixed(2)} V for six`}
            />
          )}
          <Result
            label="Freezes at"
            value={
              freezes === null
                ? 'not in the table'
                : formatTemperature(freezes, rules.temperatureUnit)
            }
            aside={freezes === null ? 'SG 1.100–1.280 only' : 'BCI, rounded'}
          />
        </dl>
      )}
    </Bay>
  );
}

/** Water to have at hand for cells that stand low. */
export function TopUpCalculator() {
  const rules = useRules();
  const [ah, setAh] = useState('18');
  const [lows, setLows] = useState('6, 6, 8, 5, 6, 7');
  const c20 = Number(ah.replace(',', '.'));
  const mm = lows
    .split(/[;\s]+|,\s+/)
    .filter(Boolean)
    .map((t) => Number(t.replace(',', '.')));
  const fine =
    c20 > 0 &&
    c20 <= 300 &&
    mm.length > 0 &&
    mm.length <= 12 &&
    mm.every((n) => n >= 0 && n <= 100);
  const estimate = fine ? topUpEstimate(mm, c20) : null;
  return (
    <Bay title="Water to top up">
      <div className="flex flex-wrap items-start gap-3">
        <label className="w-28">
          <span className="label">C20, Ah</span>
          <input
            className="field font-label text-2xl font-semibold"
            inputMode="decimal"
            value={ah}
            onChange={(e) => setAh(e.target.value)}
          />
        </label>
        <label className="min-w-44 flex-1">
          <span className="label">Below the mark, mm a cell</span>
          <input
            className="field font-label text-2xl font-semibold"
            value={lows}
            onChange={(e) => setLows(e.target.value)}
            aria-invalid={!fine}
          />
        </label>
      </div>
      {estimate ? (
        <dl className="mt-4 flex gap-8">
          <Result
            label="Distilled water, about"
            value={formatVolume(estimate.mid, rules.volumeUnit)}
            aside={`${formatVolume(estimate.low, rules.volumeUnit)} to ${formatVolume(estimate.high, rules.volumeUnit)}: cases differ`}
          />
        </dl>
      ) : (
        <p className="mt-3 text-soft">Type a number for each cell, a space between.</p>
      )}
      <p className="mt-2 text-soft">
        Only after the first charge, and after a charge rather than before it: gas lifts the level.
      </p>
    </Bay>
  );
}

/** What makes spilt acid harmless, and what it gives off. */
export function Spill() {
  const { volumeUnit } = useRules();
  const say = useSay();
  const sg = useTyped('specificGravity', '1.265');
  const volume = useTyped('volume', volumeUnit === 'oz' ? '34' : '1000');
  const most = sgFromWeightPercent(60);
  const need =
    sg.value !== null && volume.value !== null && sg.value >= 1 && sg.value <= most
      ? neutraliser(volume.value / 1000, sg.value)
      : null;
  return (
    <Bay title="Neutralise a spill">
      <div className="flex flex-wrap items-start gap-3">
        <ReadingField label="Spilt" {...volume.field} />
        <ReadingField label={say('SG at 25 °C')} {...sg.field} />
        {need && (
          <dl className="flex gap-8 pl-4">
            <Result
              label="Bicarbonate of soda"
              value={`${need.bicarbonateKg.toFixed(2)} kg`}
              aside="1.713 to 1 of acid, by mass"
            />
            <Result
              label="Carbon dioxide"
              value={`${need.carbonDioxideL.toFixed(0)} L`}
              aside="open the doors first"
            />
          </dl>
        )}
      </div>
      <p className="mt-2 max-w-[80ch] text-soft">
        Strew it from the edge inwards until it no longer foams. Neutralised acid is still
        lead-bearing waste: it goes to the licensed recycler, not down the drain.
      </p>
    </Bay>
  );
}
