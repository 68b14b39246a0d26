import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { notice } from '../../line/notices.ts';
import { MOST_IMPORTED } from '../../../contract/shopSchemas.ts';
import type { ImportedBattery } from '../../../contract/asks.ts';
import type { Problem } from '../../../contract/wire.ts';
import { BATTERY_FIELDS, MODEL_FIELDS, modelOfRow } from '../../../core/exchange/imports.ts';
import {
  type Field,
  type Mapping,
  matchColumns,
  type ReadTable,
  type RowFault,
} from '../../../core/exchange/table.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import type { TableFace, TableKind } from '../../workers/table.worker.ts';
import { useTableWorker } from './useTableWorker.ts';

const WORDS: Record<TableKind, { title: string; fields: readonly Field[] }> = {
  batteries: { title: 'Batteries', fields: BATTERY_FIELDS },
  models: { title: 'Models', fields: MODEL_FIELDS },
};
const SEPARATOR_WORDS: Record<string, string> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'bar',
};
const SHOWN_FAULTS = 12;

/** A table from outside: choose, match its columns, look at what would come in, and bring in all of it or nothing. */
export function ImportTable() {
  const navigate = useNavigate();
  const { sign } = useSigning();
  const { timeZone } = useRules();
  const { worker, cancel } = useTableWorker();
  const [kind, setKind] = useState<TableKind>('batteries');
  const [face, setFace] = useState<(TableFace & { name: string }) | null>(null);
  const [mapping, setMapping] = useState<Mapping>({});
  const [read, setRead] = useState<ReadTable | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [refused, setRefused] = useState<RowFault[]>([]);
  const { fields } = WORDS[kind];

  const look = async (next: Mapping, of: TableKind) => {
    setMapping(next);
    setRefused([]);
    const answer = await worker().read(of, next, timeZone);
    if (answer.ok) setRead(answer.value);
    else setFault(answer.message);
  };
  const choose = async (file: File | undefined) => {
    if (!file) return;
    cancel();
    setFace(null);
    setRead(null);
    setFault(null);
    setBusy(`Reading ${file.name}`);
    const answer = await worker().open(await file.arrayBuffer(), MOST_IMPORTED);
    setBusy(null);
    if (!answer.ok) return setFault(answer.message);
    setFace({ ...answer.value, name: file.name });
    await look(matchColumns(answer.value.headings, fields), kind);
  };
  const turnTo = (next: TableKind) => {
    setKind(next);
    setFault(null);
    setRead(null);
    if (face) void look(matchColumns(face.headings, WORDS[next].fields), next);
  };
  const bringIn = async () => {
    if (!read) return;
    const by = await sign();
    if (!by) return;
    setBusy('Bringing it in');
    const write = { commandId: newId(), by };
    try {
      const { added } =
        kind === 'models'
          ? await ask('importModels', {
              body: { ...write, models: read.rows.map((r) => modelOfRow(r.values)) },
            })
          : await ask('importBatteries', {
              body: {
                ...write,
                batteries: read.rows.map((r) => r.values as unknown as ImportedBattery),
              },
            });
      await queryClient.invalidateQueries();
      notice.success(`${added} ${kind} imported.`);
      void navigate(kind === 'models' ? '/intake' : '/records');
    } catch (error) {
      const problem: Problem = problemOf(error);
      setFault(problem.message);
      setRefused(faultsOfProblem(problem, read));
    } finally {
      setBusy(null);
    }
  };
  const faults = [...(read?.faults ?? []), ...refused];
  const missing = fields.filter((f) => f.must && mapping[f.key] === null);

  return (
    <div className="grid gap-5 p-4 md:p-6">
      <div className="flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-3xl">Import a file</h1>
        <Link to="/records" className="act-quiet">
          Back to the records
        </Link>
      </div>
      <div className="flex flex-wrap items-end gap-4">
        <div role="group" aria-label="What it holds" className="flex gap-2">
          {(Object.keys(WORDS) as TableKind[]).map((k) => (
            <button
              key={k}
              type="button"
              aria-pressed={k === kind}
              className={`act-quiet ${k === kind ? 'border-ink! bg-ink! text-sheet!' : ''}`}
              onClick={() => turnTo(k)}
            >
              {WORDS[k].title}
            </button>
          ))}
        </div>
        <label className="act cursor-pointer has-focus-visible:outline-3 has-focus-visible:outline-slate">
          Choose a CSV file
          <input
            type="file"
            accept=".csv,.tsv,.txt,text/csv"
            className="sr-only"
            onChange={(e) => {
              void choose(e.target.files?.[0]);
              e.target.value = '';
            }}
          />
        </label>
        {busy && (
          <p role="status" className="flex items-center gap-3 text-lg">
            {busy}
            <button
              type="button"
              className="wordlink min-h-11"
              onClick={() => {
                cancel();
                setBusy(null);
              }}
            >
              Cancel
            </button>
          </p>
        )}
      </div>
      <p className="max-w-[80ch] text-soft">
        {kind === 'batteries'
          ? 'Tag, model code, date code and whom it is for. With a rest voltage it is wet stock and goes onto the shelf; with dates of its reading and last charge its forecast begins there. Models must be in the catalogue.'
          : 'Code, name, kind, volts and Ah; what the maker does not print stays empty. Times in minutes.'}{' '}
        At most {MOST_IMPORTED.toLocaleString('en-GB')} rows. All of it comes in, or nothing.
      </p>
      {fault && (
        <p
          role="alert"
          className="rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-2 text-lg"
        >
          {fault}
        </p>
      )}
      {face && (
        <>
          <section aria-label="Columns" className="rounded-lg border border-line bg-sheet p-5">
            <h2 className="text-2xl">
              Which column is which{' '}
              <span className="text-lg font-medium text-soft">
                {face.name}: {face.count.toLocaleString('en-GB')} rows, {face.encoding}, separated
                by {SEPARATOR_WORDS[face.separator] ?? face.separator}
              </span>
            </h2>
            <div className="mt-3 grid grid-cols-2 gap-3 sm:grid-cols-3 lg:grid-cols-4">
              {fields.map((f) => (
                <label key={f.key} className="block">
                  <span className="label">
                    {f.label}
                    {f.must && ' *'}
                  </span>
                  <select
                    className="field"
                    value={mapping[f.key] ?? ''}
                    aria-invalid={f.must && mapping[f.key] === null}
                    onChange={(e) =>
                      void look(
                        {
                          ...mapping,
                          [f.key]: e.target.value === '' ? null : Number(e.target.value),
                        },
                        kind,
                      )
                    }
                  >
                    <option value="">not in the table</option>
                    {face.headings.map((h, i) => (
                      <option key={`${h}${i}`} value={i}>
                        {h || `column ${i + 1}`}
                        {face.sample[0]?.[i] ? ` (${face.sample[0][i].slice(0, 14)})` : ''}
                      </option>
                    ))}
                  </select>
                </label>
              ))}
            </div>
          </section>
          {read && <Preview read={read} fields={fields} mapping={mapping} />}
          {faults.length > 0 && (
            <section aria-label="Faults" className="rounded-lg border-2 border-oxide bg-sheet p-5">
              <h2 className="text-2xl text-oxide">
                ✕ {faults.length} {faults.length === 1 ? 'fault' : 'faults'}: nothing comes in
                before they are mended
              </h2>
              <ul className="mt-2 text-lg">
                {faults.slice(0, SHOWN_FAULTS).map((f, i) => (
                  <li key={i}>
                    <b>Row {f.row}</b>, {fields.find((x) => x.key === f.field)?.label ?? f.field}:{' '}
                    {f.message}
                  </li>
                ))}
              </ul>
              {faults.length > SHOWN_FAULTS && (
                <p className="text-soft">And {faults.length - SHOWN_FAULTS} more.</p>
              )}
            </section>
          )}
          <div>
            <button
              type="button"
              className="act min-h-13! text-xl!"
              disabled={
                !read ||
                read.rows.length === 0 ||
                faults.length > 0 ||
                missing.length > 0 ||
                busy !== null
              }
              onClick={() => void bringIn()}
            >
              Import {read?.rows.length ?? 0} {kind}
            </button>
          </div>
        </>
      )}
    </div>
  );
}

function Preview({
  read,
  fields,
  mapping,
}: {
  read: ReadTable;
  fields: readonly Field[];
  mapping: Mapping;
}) {
  const shown = fields.filter((f) => mapping[f.key] !== null);
  return (
    <section aria-label="Preview" className="min-w-0 rounded-lg border border-line bg-sheet p-5">
      <h2 className="text-2xl">
        As it would come in{' '}
        <span className="text-lg font-medium text-soft">the first of {read.rows.length}</span>
      </h2>
      <div className="relative overflow-x-auto">
        <table className="mt-2 w-full text-left">
          <thead className="label border-b border-line">
            <tr>
              <th className="pr-3 font-medium">Row</th>
              {shown.map((f) => (
                <th key={f.key} className="pr-3 font-medium whitespace-nowrap">
                  {f.label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {read.rows.slice(0, 6).map((r) => (
              <tr key={r.row} className="border-b border-hair">
                <td className="h-10 pr-3 text-soft">{r.row}</td>
                {shown.map((f) => (
                  <td key={f.key} className="pr-3 whitespace-nowrap">
                    {valueWords(f.key, r.values[f.key])}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function valueWords(key: string, value: unknown): string {
  if (value === null || value === undefined) return '–';
  if (key.endsWith('At'))
    return new Date(value as number).toISOString().slice(0, 16).replace('T', ' ');
  if (key === 'dwellS' || key === 'soakS') return `${(value as number) / 60} min`;
  return String(value as string | number);
}

/** The server's faults, told by the rows of the file: its keys begin with the index in what was sent. */
function faultsOfProblem(problem: Problem, read: ReadTable): RowFault[] {
  return Object.entries(problem.fields).flatMap(([path, message]) => {
    const rowAndField = /(\d+)(?:\.(\w+))?/.exec(path);
    const row = rowAndField ? read.rows[Number(rowAndField[1])]?.row : undefined;
    return row === undefined ? [] : [{ row, field: rowAndField?.[2] ?? 'the row', message }];
  });
}
