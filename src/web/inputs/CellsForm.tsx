import { type FormEvent, useState } from 'react';
import { CELL_LEVELS, type CellLevel } from '../../core/batteries/cellLevel.ts';
import type { CellValues, Reading, ReadingValues } from '../../core/job/reading.ts';
import { fahrenheitFromCelsius } from '../../core/quantities/quantity.ts';
import { parseReading } from '../../core/quantities/parseReading.ts';
import { useDraft } from '../line/draft.ts';
import type { JobSender } from '../line/sending.ts';
import { useRules } from '../line/queries.ts';
import { ReadingField } from './ReadingField.tsx';

export type CellWhat = 'specificGravity' | 'voltageV' | 'level' | 'bubbling';
const LEVEL_WORDS: Record<CellLevel, string> = {
  dry: 'Plates bare',
  low: 'Low',
  mark: 'At the mark',
  over: 'Too full',
};
const WHAT_WORDS: Record<CellWhat, string> = {
  specificGravity: 'SG',
  voltageV: 'Volts',
  level: 'Levels',
  bubbling: 'Bubbling',
};

interface Props {
  cells: number;
  /** What is asked for; with more than one, the technician chooses. */
  ask: readonly CellWhat[];
  act: string;
  sender: JobSender;
  onSend: (values: ReadingValues, sure: boolean, cells: CellValues[]) => Promise<boolean>;
  /** A reading that is corrected: the form opens with it. */
  initial?: Pick<Reading, 'id' | 'cells' | 'values'>;
}

/** The battery from above, a field a cell: type, Enter, the next cell; levels by tap. */
export function CellsForm({ cells, ask, act, sender, onSend, initial }: Props) {
  const rules = useRules();
  const { temperatureUnit } = rules;
  const [what, setWhat] = useState<CellWhat>(ask[0] ?? 'specificGravity');
  const was = (cell: CellValues | undefined): string => {
    const value = ask[0] === 'voltageV' ? cell?.voltageV : cell?.specificGravity;
    return value === undefined ? '' : value.toFixed(ask[0] === 'voltageV' ? 2 : 3);
  };
  const wasC = initial?.values.temperatureC;
  const wasWarm =
    wasC === undefined
      ? ''
      : (temperatureUnit === 'F' ? fahrenheitFromCelsius(wasC) : wasC).toFixed(0);
  const blank = () => Array.from({ length: cells }, (_, i) => was(initial?.cells?.[i]));
  const name = `${act} ${ask.join(' ')} ${initial?.id ?? ''}`;
  const [texts, setTexts, textsSent] = useDraft<string[]>(`${name} texts`, blank());
  const [levels, setLevels] = useState<(CellLevel | null)[]>(() =>
    Array.from({ length: cells }, (_, i) => initial?.cells?.[i]?.level ?? null),
  );
  const [gassing, setGassing] = useState<(boolean | null)[]>(() =>
    Array.from({ length: cells }, (_, i) => initial?.cells?.[i]?.bubbling ?? null),
  );
  const [warmth, setWarmth, warmthSent] = useDraft(`${name} temperature`, wasWarm);
  const [faults, setFaults] = useState<(string | undefined)[]>([]);
  const [warmthFault, setWarmthFault] = useState<string>();
  const asking = sender.problem?.code === 'ask';
  const typed = what === 'specificGravity' || what === 'voltageV';
  const tapped = what === 'bubbling' ? gassing : levels;

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const celsius = warmth.trim() === '' ? null : parseReading(warmth, 'temperature', rules);
    const needsWarmth = what === 'specificGravity' && celsius === null;
    setWarmthFault(
      celsius?.ok === false
        ? celsius.message
        : needsWarmth
          ? 'SG means nothing without it.'
          : undefined,
    );
    const parsed = typed
      ? texts.map((t) => parseReading(t, what === 'voltageV' ? 'voltage' : 'specificGravity'))
      : [];
    setFaults(parsed.map((p) => (p.ok ? undefined : p.message)));
    if (
      celsius?.ok === false ||
      needsWarmth ||
      parsed.some((p) => !p.ok) ||
      (!typed && tapped.some((l) => l === null))
    )
      return;
    const read = typed
      ? parsed.map((p): CellValues => (p.ok ? { [what]: p.value } : {}))
      : what === 'bubbling'
        ? gassing.map((bubbling): CellValues => ({ bubbling: bubbling === true }))
        : levels.map((level): CellValues => ({ level: level as CellLevel }));
    if (await onSend(celsius?.ok ? { temperatureC: celsius.value } : {}, asking, read)) {
      textsSent();
      warmthSent();
    }
  };
  const nextLevel = (level: CellLevel | null) => {
    const order: CellLevel[] = ['mark', 'low', 'dry', 'over'];
    return order[(order.indexOf(level as CellLevel) + 1) % CELL_LEVELS.length] ?? 'mark';
  };

  return (
    <form onSubmit={(e) => void submit(e)} noValidate className="grid w-full gap-3">
      {ask.length > 1 && (
        <div role="group" aria-label="What is read" className="flex flex-wrap gap-2">
          {ask.map((w) => (
            <button
              key={w}
              type="button"
              aria-pressed={w === what}
              className={`act-quiet min-w-24 ${w === what ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() => setWhat(w)}
            >
              {WHAT_WORDS[w]}
            </button>
          ))}
        </div>
      )}
      <div className="flex max-w-full items-start gap-3 rounded-xl border-2 border-ink bg-paper p-3 max-sm:gap-1.5 max-sm:p-2">
        <b className="mt-7 font-label text-3xl" aria-hidden>
          +
        </b>
        <div
          className="grid min-w-0 flex-1 grid-cols-[repeat(auto-fit,minmax(5.6rem,1fr))] gap-2"
          role="group"
          aria-label="Cells, from plus to minus"
        >
          {Array.from({ length: cells }, (_, i) => (
            <div key={i} className="min-w-0">
              {typed ? (
                <label className="block">
                  <span className="label">Cell {i + 1}</span>
                  <input
                    className="field px-2! font-label text-2xl font-semibold"
                    inputMode="decimal"
                    autoComplete="off"
                    autoFocus={i === 0}
                    value={texts[i]}
                    aria-invalid={faults[i] !== undefined}
                    onChange={(e) => {
                      setTexts((old) => old.map((t, j) => (j === i ? e.target.value : t)));
                      setFaults([]);
                      sender.clear();
                    }}
                    onKeyDown={toNextCell}
                  />
                  {faults[i] && <span className="mt-1 block text-sm text-oxide">{faults[i]}</span>}
                </label>
              ) : (
                <CellTap
                  cell={i + 1}
                  word={
                    what === 'bubbling'
                      ? BUBBLING_WORDS[String(gassing[i])]
                      : levels[i]
                        ? LEVEL_WORDS[levels[i]]
                        : undefined
                  }
                  good={what === 'bubbling' ? gassing[i] === true : levels[i] === 'mark'}
                  onTap={() =>
                    what === 'bubbling'
                      ? setGassing((old) => old.map((g, j) => (j === i ? g !== true : g)))
                      : setLevels((old) => old.map((l, j) => (j === i ? nextLevel(l) : l)))
                  }
                />
              )}
            </div>
          ))}
        </div>
        <b className="mt-7 font-label text-3xl" aria-hidden>
          −
        </b>
      </div>
      <div className="flex flex-wrap items-start gap-3">
        {typed ? (
          <div className="w-52">
            <ReadingField
              quantity="temperature"
              label={what === 'specificGravity' ? 'Acid’s temperature' : 'Temperature'}
              value={warmth}
              onChange={(t) => {
                setWarmth(() => t);
                setWarmthFault(undefined);
              }}
              message={warmthFault}
              optional={what === 'voltageV'}
            />
          </div>
        ) : (
          <button
            type="button"
            className="act-quiet"
            onClick={() =>
              what === 'bubbling'
                ? setGassing((old) => old.map((g) => g ?? true))
                : setLevels((old) => old.map((l) => l ?? 'mark'))
            }
          >
            {what === 'bubbling' ? 'All the others bubble' : 'All the others at the mark'}
          </button>
        )}
        <button
          type="submit"
          className={`act min-h-12! ${typed ? 'mt-6' : ''}`}
          disabled={sender.busy}
        >
          {asking ? 'Yes, save it' : act}
        </button>
      </div>
      {asking && (
        <p role="alert" className="rounded-md bg-ochre-pale px-3 py-2 text-lg">
          {sender.problem?.message}
        </p>
      )}
    </form>
  );
}

const BUBBLING_WORDS: Record<string, string | undefined> = { true: 'Bubbling', false: 'Still' };

/** One port of the strip, answered by tapping; each tap is the next answer. */
function CellTap({
  cell,
  word,
  good,
  onTap,
}: {
  cell: number;
  word: string | undefined;
  good: boolean;
  onTap: () => void;
}) {
  return (
    <button
      type="button"
      onClick={onTap}
      className={`min-h-20 w-full rounded-lg border-3 px-1 leading-tight ${good ? 'border-slate bg-slate-pale' : word ? 'border-oxide bg-oxide-pale' : 'border-dashed border-soft bg-sheet'}`}
    >
      <span className="font-label text-xl font-semibold">
        <span className="sr-only">Cell </span>
        {cell}
      </span>
      <span className="block text-[15px]">{word ?? 'look'}</span>
    </button>
  );
}

function toNextCell(event: React.KeyboardEvent<HTMLInputElement>): void {
  if (event.key !== 'Enter') return;
  const inputs = [...(event.currentTarget.form?.querySelectorAll('input') ?? [])];
  const next = inputs[inputs.indexOf(event.currentTarget) + 1];
  if (!next) return;
  event.preventDefault();
  next.focus();
  next.select();
}
