import { useState } from 'react';
import type { TriedInstrument } from '../../../contract/chargeWire.ts';
import {
  INSTRUMENT_KINDS,
  type InstrumentKind,
  type InstrumentSetting,
} from '../../../core/house/instruments.ts';
import { useSigning } from '../../line/signing.tsx';
import { ask } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { NumberField } from '../../parts/NumberField.tsx';

interface Props {
  instruments: readonly InstrumentSetting[];
  /** Charging places of the bench. */
  places: number;
  problem: (index: number, field: keyof InstrumentSetting) => string | undefined;
  onChange: (instruments: InstrumentSetting[]) => void;
}

/** SCPI over TCP is usually spoken on this port. */
const USUAL_PORT = 5025;

const fresh = (): InstrumentSetting => ({
  id: newId(),
  name: 'Supply',
  kind: 'charger',
  host: '127.0.0.1',
  port: USUAL_PORT,
  firstPlace: 1,
  outputs: 1,
  mostA: 10,
  mostV: 16,
  leastStartV: 2,
});

/** The instruments of the bench: where they answer, which places they serve, and whether they can be trusted. */
export function InstrumentRules({ instruments, places, problem, onChange }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const change = (index: number, next: InstrumentSetting) =>
    onChange(instruments.map((i, k) => (k === index ? next : i)));
  const add = () => {
    const one = fresh();
    onChange([...instruments, one]);
    setOpen(one.id);
  };
  return (
    <section aria-labelledby="instruments">
      <h2 id="instruments" className="sr-only">
        Instruments
      </h2>
      <p className="mb-2 max-w-[70ch] text-soft">
        Chargers and supplies that speak SCPI over TCP run charges by themselves at their places. A
        place without one is charged by hand, with a reading each hour.
      </p>
      {instruments.length === 0 && (
        <p className="mb-2 text-lg">None yet: every place is charged by hand.</p>
      )}
      <ul className="mb-3">
        {instruments.map((instrument, i) => (
          <li key={instrument.id} className="border-b border-line">
            <Row
              instrument={instrument}
              places={places}
              open={open === instrument.id}
              onOpen={() => setOpen(open === instrument.id ? null : instrument.id)}
              onRemove={() => onChange(instruments.filter((_, k) => k !== i))}
            />
            {open === instrument.id && (
              <Fields
                instrument={instrument}
                problem={(field) => problem(i, field)}
                onChange={(next) => change(i, next)}
              />
            )}
          </li>
        ))}
      </ul>
      <button type="button" className="act-quiet" onClick={add}>
        Add an instrument
      </button>
    </section>
  );
}

const HAND_HELD: readonly InstrumentKind[] = ['meter', 'hydrometer', 'analyser', 'scale'];

function placesOf({ kind, firstPlace, outputs }: InstrumentSetting, places: number): string {
  const last = Math.min(places, firstPlace + outputs - 1);
  if (firstPlace > places) return 'no place of this bench';
  if (HAND_HELD.includes(kind) && firstPlace === 1 && last >= places) return 'every place';
  return firstPlace === last ? `place ${firstPlace}` : `places ${firstPlace} to ${last}`;
}

function Row({
  instrument,
  places,
  open,
  onOpen,
  onRemove,
}: {
  instrument: InstrumentSetting;
  places: number;
  open: boolean;
  onOpen: () => void;
  onRemove: () => void;
}) {
  const { sign } = useSigning();
  const [tried, setTried] = useState<TriedInstrument | 'trying' | null>(null);
  const tryIt = async () => {
    const by = await sign();
    if (!by) return;
    setTried('trying');
    try {
      setTried(await ask('tryInstrument', { body: { by, instrument } }));
    } catch (error) {
      setTried({ ok: false, lines: [(error as Error).message] });
    }
  };
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
      <p className="min-w-52 flex-1 text-lg leading-tight">
        <b className="font-label text-xl font-semibold">{instrument.name}</b>
        <span className="block text-[15px] text-soft">
          {INSTRUMENT_KINDS[instrument.kind]} at {instrument.host}:{instrument.port},{' '}
          {placesOf(instrument, places)}
        </span>
      </p>
      <button
        type="button"
        className="act-quiet"
        disabled={tried === 'trying'}
        onClick={() => void tryIt()}
      >
        {tried === 'trying' ? 'Trying' : 'Try connection'}
      </button>
      <button type="button" className="act-quiet" aria-expanded={open} onClick={onOpen}>
        {open ? 'Close' : 'Change'}
      </button>
      <button type="button" className="wordlink min-h-11 px-1 text-soft" onClick={onRemove}>
        Remove
      </button>
      {tried !== null && tried !== 'trying' && (
        <ul
          role="status"
          className={`w-full rounded-md border-l-8 px-4 py-2 ${tried.ok ? 'border-moss bg-moss-pale' : 'border-oxide bg-oxide-pale'}`}
        >
          <li className="font-semibold">
            {tried.ok ? '✓ It answers' : '✕ It cannot be used like this'}
          </li>
          {tried.lines.map((line) => (
            <li key={line} className="break-words">
              {line}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const KINDS = Object.entries(INSTRUMENT_KINDS) as [InstrumentKind, string][];

type NumberKey = 'port' | 'firstPlace' | 'outputs' | 'mostA' | 'mostV' | 'leastStartV';
const NUMBERS: readonly { field: NumberKey; label: string; charger: boolean }[] = [
  { field: 'port', label: 'Port', charger: false },
  { field: 'firstPlace', label: 'First place', charger: false },
  { field: 'outputs', label: 'Places it serves', charger: false },
  { field: 'mostA', label: 'Most amps', charger: true },
  { field: 'mostV', label: 'Most volts', charger: true },
  { field: 'leastStartV', label: 'Starts from, V', charger: true },
];

function Fields({
  instrument,
  problem,
  onChange,
}: {
  instrument: InstrumentSetting;
  problem: (field: keyof InstrumentSetting) => string | undefined;
  onChange: (instrument: InstrumentSetting) => void;
}) {
  return (
    <div className="grid gap-3 pb-4 sm:grid-cols-3">
      <Labelled label="Name" message={problem('name')}>
        <input
          className="field"
          value={instrument.name}
          onChange={(e) => onChange({ ...instrument, name: e.target.value })}
        />
      </Labelled>
      <Choice
        label="What it is"
        value={instrument.kind}
        options={KINDS}
        onChange={(kind) => onChange({ ...instrument, kind })}
      />
      <Labelled label="Address" message={problem('host')}>
        <input
          className="field"
          autoComplete="off"
          value={instrument.host}
          onChange={(e) => onChange({ ...instrument, host: e.target.value.trim() })}
        />
      </Labelled>
      {NUMBERS.filter(
        (n) => !n.charger || instrument.kind === 'charger' || instrument.kind === 'load',
      ).map(({ field, label }) => (
        <NumberField
          key={field}
          label={label}
          value={instrument[field]}
          message={problem(field)}
          onChange={(value) => onChange({ ...instrument, [field]: value })}
        />
      ))}
    </div>
  );
}
