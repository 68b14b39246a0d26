import type { ReactNode } from 'react';
import { type ChargerOption, fits } from '../../../../core/chargers/fit.ts';
import {
  chargerCautionWords,
  chargerFaultWords,
  settingWords,
} from '../../../../core/chargers/fitWords.ts';
import type { ChargerChoice, ChargerOffer } from '../../../../core/recovery/chargerOffer.ts';

/** So many that fit stand open; the others are a tap away. */
const SHOWN = 2;

interface Props {
  offer: ChargerOffer;
  /** Null: one that is not on the wall. */
  chosen: ChargerOption | null;
  onChoose: (option: ChargerOption | null) => void;
}

/** Which of the shop's chargers fits this battery, how it is set and how long it takes; and why the others do not. */
export function ChargerPicks({ offer: { choices, wouldDo }, chosen, onChoose }: Props) {
  const good = choices.filter(({ option }) => fits(option));
  const first = good.slice(0, SHOWN);
  const others = choices.filter((choice) => !first.includes(choice));
  const pick = ({ option: o, hours }: ChargerChoice) => (
    <Pick
      key={o.charger.id}
      checked={chosen?.charger.id === o.charger.id}
      onChoose={() => onChoose(o)}
      title={o.charger.name}
      aside={settingWords(o)}
      hours={hours}
    >
      {o.faults.map((f) => (
        <Line key={f.kind} mark="✕">
          {chargerFaultWords(f)}
        </Line>
      ))}
      {(fits(o) ? o.cautions : []).map((c) => (
        <Line key={c.kind} mark="◆">
          {chargerCautionWords(c)}
        </Line>
      ))}
    </Pick>
  );
  return (
    <fieldset>
      <legend className="label mb-1">Charger, best first</legend>
      {wouldDo && (
        <p className="mb-2 rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2 text-lg">
          {wouldDo}
        </p>
      )}
      <ul className="grid gap-2">{first.map(pick)}</ul>
      <details className="mt-1" open={first.length === 0}>
        <summary className="wordlink min-h-11 w-fit cursor-pointer py-2 text-soft">
          {others.length === 0
            ? 'Another charger'
            : `${others.length === 1 ? 'One more' : `${others.length} more`}, and another charger`}
        </summary>
        <ul className="grid gap-2">
          {others.map(pick)}
          <Pick
            checked={chosen === null}
            onChoose={() => onChoose(null)}
            title="A charger that is not on the wall"
            aside="set by hand"
            hours={null}
          />
        </ul>
      </details>
    </fieldset>
  );
}

function Line({ mark, children }: { mark: string; children: ReactNode }) {
  return (
    <span className="block text-[15px] text-soft">
      {mark} {children}
    </span>
  );
}

function Pick({
  checked,
  onChoose,
  title,
  aside,
  hours,
  children,
}: {
  checked: boolean;
  onChoose: () => void;
  title: string;
  aside: string;
  hours: string | null;
  children?: ReactNode;
}) {
  return (
    <li>
      <label
        className={`flex min-h-14 cursor-pointer items-start gap-3 rounded-md border px-4 py-2 ${checked ? 'border-2 border-ink bg-sheet' : 'border-line'}`}
      >
        <input
          type="radio"
          name="charger"
          className="mt-1.5 size-5 shrink-0"
          checked={checked}
          onChange={onChoose}
        />
        <span className="min-w-0 flex-1">
          <span className="text-lg">
            <b className="font-label text-xl font-semibold">{title}</b>{' '}
            <span className="text-soft">{aside}</span>
          </span>
          {children}
        </span>
        {hours && (
          <span className="font-label text-xl font-semibold whitespace-nowrap">{hours}</span>
        )}
      </label>
    </li>
  );
}
