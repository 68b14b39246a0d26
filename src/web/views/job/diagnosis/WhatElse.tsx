import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import { FAMILIES } from '../../../../core/diagnosis/practice/families.ts';
import type { TradeRule } from '../../../../core/diagnosis/practice/tradeRules.ts';
import { valueWords } from './Whys.tsx';

/** What a reading not taken yet would have to be for another family to come first. */
export function WouldChange({ diagnosis }: { diagnosis: Diagnosis }) {
  if (diagnosis.would.length === 0) return null;
  return (
    <section>
      <h3 className="pb-1 text-xl">What would change this</h3>
      <ul>
        {diagnosis.would.map(({ feature, name, at, unit, below, family }) => (
          <li key={feature + family} className="border-t border-line py-1.5">
            {name} {below ? 'under' : 'over'} {valueWords(at, unit)} →{' '}
            <b>{FAMILIES[family].name.toLowerCase()}</b>
          </li>
        ))}
      </ul>
    </section>
  );
}

const MARKS: Readonly<Record<TradeRule['state'], readonly [mark: string, words: string]>> = {
  holds: ['✓', 'it does'],
  no: ['✕', 'it does not'],
  'not-measured': ['?', 'not measured'],
};

/** The plain rules of the trade beside the odds, each with what this battery says to it. */
export function TradeRules({ diagnosis }: { diagnosis: Diagnosis }) {
  return (
    <section>
      <h3 className="pb-1 text-xl">Rules of the trade</h3>
      <ul className="grid gap-1">
        {diagnosis.trade.map((rule) => {
          const [mark, words] = MARKS[rule.state];
          return (
            <li key={rule.key} className="flex gap-2 leading-snug">
              <span aria-hidden className="w-4 shrink-0 font-semibold">
                {mark}
              </span>
              <span className={rule.state === 'holds' ? 'font-semibold' : ''}>
                {ruleWords(rule)} <span className="font-normal text-soft">({words})</span>
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function ruleWords({ key, line, to }: TradeRule): string {
  switch (key) {
    case 'dead-cell':
      return `About ${line.toFixed(1)} V after a charge: a dead cell`;
    case 'sulfated':
      return `${line.toFixed(2)}–${(to ?? 0).toFixed(2)} V after a charge: sulfated`;
    case 'failing-cell':
      return `A cell ${line.toFixed(3)} SG low after a charge: it fails`;
    case 'load':
      return `Charged, under ${line.toFixed(2)} V at three times C20 for ${to} s: it fails`;
    case 'reversed':
      return 'Below 0 V: reversed';
  }
}
