import { Suspense, useState } from 'react';
import { notice } from '../../line/notices.ts';
import {
  beginningFault,
  type ChargeLog,
  guessLogColumns,
  type LogColumns,
} from '../../../core/exchange/chargeLog.ts';
import { formatDuration, formatStamp } from '../../../core/quantities/format.ts';
import { ask } from '../../line/api.ts';
import { useMinute } from '../../line/benchClock.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { later } from '../../parts/later.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { MomentField } from '../../parts/MomentField.tsx';
import type { TableFace } from '../../workers/table.worker.ts';
import { useTableWorker } from './useTableWorker.ts';

const LogChart = later(async () => (await import('./LogChart.tsx')).LogChart);

/** A week at one row in two seconds; more is thinned before it comes here. */
const MOST_ROWS = 400_000;
const UNSAID = { at: null, begun: false };
const UNKNOWN: LogColumns = {
  time: { column: 0, unit: 's' },
  voltage: { column: 1, unit: 'V' },
  current: { column: 2, unit: 'A', reversed: false },
  temperature: null,
};

/** A charger's or meter's own log, kept with the battery as a charge with its chart. */
export function ImportLogDialog({ tag, onClose }: { tag: string; onClose: () => void }) {
  const { sign } = useSigning();
  const rules = useRules();
  const { timeZone, dateOrder } = rules;
  const now = useMinute();
  const { worker, cancel } = useTableWorker();
  const [face, setFace] = useState<(TableFace & { name: string }) | null>(null);
  const [columns, setColumns] = useState<LogColumns>(UNKNOWN);
  const [log, setLog] = useState<ChargeLog | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  /** When it began, by whoever keeps it: few logs name a day. */
  const [began, setBegan] = useState<{ at: number | null; begun: boolean }>(UNSAID);
  const asks = log?.startedAt === null;
  const halfSaid = began.begun ? 'The day and the time, or neither.' : null;
  const untrue = began.at === null ? null : log && beginningFault(log, began.at, now);
  const fails = asks ? (halfSaid ?? untrue) : null;

  const look = async (next: LogColumns) => {
    setColumns(next);
    const answer = await worker().log(next, { timeZone, dateOrder });
    setLog(answer.ok ? answer.value : null);
    setFault(answer.ok ? null : answer.message);
  };
  const choose = async (file: File | undefined) => {
    if (!file) return;
    cancel();
    setFace(null);
    setLog(null);
    setFault(null);
    setBegan(UNSAID);
    setBusy(true);
    const answer = await worker().open(await file.arrayBuffer(), MOST_ROWS);
    setBusy(false);
    if (!answer.ok) return setFault(answer.message);
    setFace({ ...answer.value, name: file.name });
    const guess = guessLogColumns(answer.value.headings);
    if (!guess) setFault('Say which columns hold time, volts and amps.');
    await look(guess ?? UNKNOWN);
  };
  const keep = async () => {
    if (!log || !face) return;
    const by = await sign();
    if (!by) return;
    setBusy(true);
    try {
      await ask('importLog', {
        params: { tag },
        body: {
          commandId: newId(),
          by,
          name: face.name.replaceAll(/[<>=+@]/g, '').slice(0, 80) || 'Log',
          log: { ...log, startedAt: log.startedAt ?? began.at },
        },
      });
      await queryClient.invalidateQueries({ queryKey: ['record', tag] });
      notice.success('The log is kept with the battery.');
      onClose();
    } catch (error) {
      setFault((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const column = (
    label: string,
    value: number | null,
    set: (at: number | null) => void,
    optional = false,
  ) => (
    <Labelled label={label}>
      <select
        className="field"
        value={value ?? ''}
        onChange={(e) => set(e.target.value === '' ? null : Number(e.target.value))}
      >
        {optional && <option value="">not in the log</option>}
        {face?.headings.map((h, i) => (
          <option key={`${h}${i}`} value={i}>
            {h || `column ${i + 1}`}
          </option>
        ))}
      </select>
    </Labelled>
  );
  const unit = <U extends string>(
    label: string,
    value: U,
    choices: readonly (readonly [U, string])[],
    set: (u: U) => void,
  ) => (
    <Labelled label={label}>
      <select className="field" value={value} onChange={(e) => set(e.target.value as U)}>
        {choices.map(([key, word]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
      </select>
    </Labelled>
  );

  return (
    <OpenDialog
      onClose={onClose}
      title={`Import a log for ${tag}`}
      description="What a charger or meter wrote down by itself, as CSV: time, volts, amps, and temperature if it has it."
      width="max-w-3xl"
    >
      <div className="grid gap-4">
        <div className="flex flex-wrap items-center gap-4">
          <label className="act cursor-pointer has-focus-visible:outline-3 has-focus-visible:outline-slate">
            Choose a file
            <input
              type="file"
              accept=".csv,.tsv,.txt,text/csv"
              className="sr-only"
              onChange={(e) => void choose(e.target.files?.[0])}
            />
          </label>
          {busy && (
            <p role="status" className="text-lg">
              Reading{' '}
              <button
                type="button"
                className="wordlink min-h-11"
                onClick={() => {
                  cancel();
                  setBusy(false);
                }}
              >
                Cancel
              </button>
            </p>
          )}
          {face && (
            <p className="text-soft">
              {face.name}: {face.count.toLocaleString('en-GB')} rows, {face.encoding}
            </p>
          )}
        </div>
        {face && (
          <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
            {column(
              'Time',
              columns.time.column,
              (at) =>
                at !== null && void look({ ...columns, time: { ...columns.time, column: at } }),
            )}
            {column(
              'Volts',
              columns.voltage.column,
              (at) =>
                at !== null &&
                void look({ ...columns, voltage: { ...columns.voltage, column: at } }),
            )}
            {column(
              'Amps',
              columns.current.column,
              (at) =>
                at !== null &&
                void look({ ...columns, current: { ...columns.current, column: at } }),
            )}
            {column(
              'Temperature',
              columns.temperature?.column ?? null,
              (at) =>
                void look({
                  ...columns,
                  temperature:
                    at === null ? null : { column: at, unit: columns.temperature?.unit ?? 'C' },
                }),
              true,
            )}
            {unit(
              'Time in',
              columns.time.unit,
              [
                ['s', 'seconds'],
                ['min', 'minutes'],
                ['h', 'hours'],
                ['clock', 'dates or h:m:s'],
              ],
              (u) => void look({ ...columns, time: { ...columns.time, unit: u } }),
            )}
            {unit(
              'Volts in',
              columns.voltage.unit,
              [
                ['V', 'V'],
                ['mV', 'mV'],
              ],
              (u) => void look({ ...columns, voltage: { ...columns.voltage, unit: u } }),
            )}
            {unit(
              'Amps in',
              `${columns.current.unit}${columns.current.reversed ? '-' : ''}` as
                | 'A'
                | 'mA'
                | 'A-'
                | 'mA-',
              [
                ['A', 'A, charge positive'],
                ['mA', 'mA, charge positive'],
                ['A-', 'A, discharge positive'],
                ['mA-', 'mA, discharge positive'],
              ],
              (u) =>
                void look({
                  ...columns,
                  current: {
                    ...columns.current,
                    unit: u.startsWith('mA') ? 'mA' : 'A',
                    reversed: u.endsWith('-'),
                  },
                }),
            )}
            {columns.temperature &&
              unit(
                'Temperature in',
                columns.temperature.unit,
                [
                  ['C', '°C'],
                  ['F', '°F'],
                ],
                (u) =>
                  columns.temperature &&
                  void look({ ...columns, temperature: { ...columns.temperature, unit: u } }),
              )}
          </div>
        )}
        {fault && (
          <p
            role="alert"
            className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg"
          >
            {fault}
          </p>
        )}
        {log && (
          <>
            <p className="text-lg">
              {formatDuration(log.seconds.at(-1) ?? 0)}: <b>{log.ahIn.toFixed(2)} Ah in</b>
              {log.ahOut > 0.005 && `, ${log.ahOut.toFixed(2)} Ah out`},{' '}
              {log.voltageV[0]?.toFixed(2)} V to {log.voltageV.at(-1)?.toFixed(2)} V.{' '}
              <span className="text-soft">{log.notices.join(' ')}</span>
            </p>
            {log.startedAt === null ? (
              <MomentField
                label="It began (empty: not known)"
                value={began.at}
                wall={rules}
                now={now}
                gone
                message={fails ?? undefined}
                onChange={(at, begun) => setBegan({ at, begun })}
              />
            ) : (
              <p className="text-lg">
                It began {formatStamp(log.startedAt, rules)}, by its own clock.
              </p>
            )}
            <Suspense fallback={<div className="min-h-80" />}>
              <LogChart log={log} />
            </Suspense>
          </>
        )}
        <div className="flex justify-end gap-3">
          <DialogBack />
          <button
            type="button"
            className="act"
            disabled={!log || busy || fails !== null}
            onClick={() => void keep()}
          >
            Keep it with {tag}
          </button>
        </div>
      </div>
    </OpenDialog>
  );
}
