import { type FormEvent, useState } from 'react';
import { airThroughOpenings, ventilationNeed } from '../../../core/safety/ventilation.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import type { StepProps } from './stepProps.ts';

type Known = 'fan' | 'openings' | 'unknown';

/** A battery that makes the need plain: what one of it asks of the air while it gasses. */
const EXAMPLE = { cells: 6, c20Ah: 60, vented: true };
const EXAMPLE_NEED = ventilationNeed([EXAMPLE]);

/** How many batteries charge at once, and what air carries their hydrogen away. */
export function AirStep({ rules, problem, onNext, foot }: StepProps) {
  const [places, setPlaces] = useState(rules.places);
  const [roomM3, setRoomM3] = useState(rules.roomM3);
  const [known, setKnown] = useState<Known>('unknown');
  const [fan, setFan] = useState(rules.roomAirM3h);
  const [cm2, setCm2] = useState(1120);
  const air =
    known === 'fan' ? fan : known === 'openings' ? airThroughOpenings(cm2) : rules.roomAirM3h;
  const fault = (field: string) => problem?.fields[`rules.${field}`];
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void onNext({ places, roomM3, roomAirM3h: Math.round(air) });
  };
  const radio = (value: Known, title: string, text: string) => (
    <label
      className={`flex cursor-pointer gap-3 rounded-lg border-2 p-3 ${known === value ? 'border-ink bg-sheet' : 'border-line'}`}
    >
      <input
        type="radio"
        name="air"
        className="mt-1 size-5 shrink-0 accent-ink"
        checked={known === value}
        onChange={() => setKnown(value)}
      />
      <span>
        <b className="font-label text-lg">{title}</b>
        <span className="block">{text}</span>
      </span>
    </label>
  );
  return (
    <form onSubmit={submit} noValidate className="grid gap-5">
      <div>
        <h1 className="text-4xl">Places and air</h1>
        <p className="text-lg text-soft">
          A charging battery gives off hydrogen; in a closed room it can explode. The bench adds up
          what charges together and says when the air is not enough.
        </p>
      </div>
      <div className="grid gap-3 sm:grid-cols-2">
        <NumberField
          label="Charging places"
          value={places}
          message={fault('places')}
          onChange={setPlaces}
        />
        <NumberField
          label="Air in the room, m³"
          value={roomM3}
          message={fault('roomM3')}
          onChange={setRoomM3}
        />
      </div>
      <fieldset className="grid gap-2 md:grid-cols-3">
        <legend className="mb-2 text-2xl font-semibold">What moves the air?</legend>
        {radio('fan', 'A fan', 'Its plate says how many m³ an hour it moves.')}
        {radio('openings', 'Two openings', 'One low, one high, on different walls.')}
        {radio(
          'unknown',
          'I do not know yet',
          `${rules.roomAirM3h} m³/h is taken. Measure before you charge open batteries side by side.`,
        )}
      </fieldset>
      {known === 'fan' && (
        <NumberField
          label="Air the fan moves, m³/h"
          value={fan}
          message={fault('roomAirM3h')}
          onChange={setFan}
        />
      )}
      {known === 'openings' && (
        <NumberField
          label="Free area of the smaller one, cm²"
          value={cm2}
          message={fault('roomAirM3h')}
          onChange={setCm2}
        />
      )}
      <p className="rounded-md bg-slate-pale px-4 py-2 text-lg" role="status">
        {Number.isFinite(air) && air > 0
          ? `${air.toFixed(0)} m³/h carry ${Math.floor(air / EXAMPLE_NEED)} open starter batteries of 60 Ah at once (EN IEC 62485-2: ${EXAMPLE_NEED.toFixed(2)} m³/h each). Local rules come first.`
          : 'No air, no charging of open batteries.'}
      </p>
      {foot}
    </form>
  );
}
