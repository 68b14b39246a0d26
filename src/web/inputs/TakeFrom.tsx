import { useState } from 'react';
import type { Measured } from '../../contract/chargeWire.ts';
import { instrumentAt, type InstrumentKind } from '../../core/house/instruments.ts';
import type { ReadingValues } from '../../core/job/reading.ts';
import { ask } from '../line/api.ts';
import { useRules } from '../line/queries.ts';

type HandHeld = Extract<InstrumentKind, 'meter' | 'hydrometer' | 'analyser' | 'scale'>;

/** What each hand-held instrument can fill in. */
const FILLS: Readonly<Record<HandHeld, readonly (keyof ReadingValues)[]>> = {
  meter: ['voltageV', 'temperatureC'],
  hydrometer: ['specificGravity'],
  analyser: ['resistanceMilliohm', 'ccaA'],
  scale: ['massG'],
};

interface Props {
  place: number;
  fields: readonly (keyof ReadingValues)[];
  onTaken: (measured: Measured) => void;
}

/** Reads an instrument of the battery's place into the fields; what is kept is still the person's to say. */
export function TakeFrom({ place, fields, onTaken }: Props) {
  const { instruments } = useRules();
  const [problem, setProblem] = useState<string | null>(null);
  const usable = (Object.keys(FILLS) as HandHeld[]).flatMap((kind) => {
    const found = FILLS[kind].some((f) => fields.includes(f))
      ? instrumentAt(instruments, kind, place)
      : null;
    return found ? [{ kind, name: found.setting.name }] : [];
  });
  if (usable.length === 0) return null;
  const take = async (kind: HandHeld) => {
    setProblem(null);
    try {
      onTaken(await ask('measure', { body: { kind, place } }));
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      {usable.map(({ kind, name }) => (
        <button
          key={kind}
          type="button"
          className="min-h-11 rounded-md bg-hair px-3"
          onClick={() => void take(kind)}
        >
          Take it from the {name.toLowerCase()}
        </button>
      ))}
      {problem && (
        <p role="alert" className="text-oxide">
          {problem}
        </p>
      )}
    </div>
  );
}
