import { type FormEvent, useEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Problem } from '../../../contract/wire.ts';
import { normaliseTag } from '../../../core/batteries/tag.ts';
import { formatDateOf } from '../../../core/quantities/format.ts';
import { standingOf } from '../../../core/storage/stock.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import { ProblemError, pathTo } from '../../line/api.ts';
import { momentOfAct } from '../../line/benchClock.ts';
import { keepDraft, keptDraft } from '../../line/draft.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules } from '../../line/queries.ts';
import { keptBecause, outbox } from '../../line/sending.ts';
import { useSigning } from '../../line/signing.tsx';
import { Empty, Loading } from '../../line/States.tsx';
import { CorrectShelf } from '../../inputs/CorrectShelf.tsx';
import { OpenJobButton } from '../../inputs/OpenJob.tsx';
import { type ShelfStanding, useStandings } from '../../line/standings.ts';
import { ScanButton } from '../../parts/ScanButton.tsx';
import { useWakeLock } from '../../line/wakeLock.ts';

interface Done {
  tag: string;
  readingId: string;
  voltageV: number;
  wantsCharge: boolean;
}

const byPlace = (a: string | null, b: string | null): number =>
  a === b ? 0 : a === null ? 1 : b === null ? -1 : a.localeCompare(b, 'en', { numeric: true });

const draftOf = (tag: string): string => `round ${tag}`;

/** A walk along the shelf: scan or take the next, type what the meter says, Enter, the next one. */
export function Round() {
  const rules = useRules();
  useWakeLock();
  const { sign } = useSigning();
  const standings = useStandings();
  const [all, setAll] = useState(false);
  const [done, setDone] = useState<Done[]>([]);
  const [correcting, setCorrecting] = useState<Done | null>(null);
  const [asked] = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(() => asked.get('tag'));
  const [typed, setTyped] = useState<{ tag: string; text: string } | null>(null);
  const [scan, setScan] = useState('');
  const [fault, setFault] = useState<string>();
  const [problem, setProblem] = useState<Problem | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const here = standings?.filter((s) => s.item.jobId === null) ?? [];
  const read = new Set(done.map((d) => d.tag));
  const queue = here
    .filter((s) => !read.has(s.item.tag) && (all || s.wants !== null))
    // One goes along the racks; what has no place comes last.
    .toSorted((a, b) => byPlace(a.item.place, b.item.place));
  const current = here.find((s) => s.item.tag === chosen && !read.has(s.item.tag)) ?? queue[0];
  const currentTag = current?.item.tag;
  useEffect(() => field.current?.focus(), [currentTag]);
  // What was typed of this battery before the page was left; of another it would be a lie.
  const found = currentTag ? (keptDraft<string>(draftOf(currentTag)) ?? '') : '';
  const text = typed?.tag === currentTag ? (typed?.text ?? '') : found;
  if (!standings) return <Loading />;

  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (!current) return;
    const parsed = parseReading(text, 'voltage');
    setFault(parsed.ok ? undefined : parsed.message);
    if (!parsed.ok) return;
    const by = await sign();
    if (!by) return;
    const { tag } = current.item;
    const body = {
      commandId: newId(),
      by,
      voltageV: parsed.value,
      takenAt: momentOfAct(),
      ...(problem?.code === 'ask' ? { sure: true } : {}),
    };
    try {
      await outbox.send({
        path: pathTo('readOnShelf', { params: { tag } }),
        body,
        what: `${tag}: ${parsed.value.toFixed(2)} V on the shelf`,
      });
    } catch (error) {
      // Kept here until the server answers; the walk goes on.
      if (!keptBecause(error)) {
        if (!(error instanceof ProblemError)) throw error;
        setProblem(error.problem);
        return;
      }
    }
    const readAt = momentOfAct();
    const nowRead = {
      ...current.item,
      readings: [...current.item.readings, { at: readAt, voltageV: parsed.value }],
    };
    const wantsCharge = standingOf(nowRead, rules, readAt).wants === 'charge';
    setDone((old) => [
      { tag, readingId: body.commandId, voltageV: parsed.value, wantsCharge },
      ...old,
    ]);
    keepDraft(draftOf(tag), null);
    setTyped(null);
    setProblem(null);
    setChosen(null);
    void queryClient.invalidateQueries({ queryKey: ['shelf'] });
  };
  const jump = (event: FormEvent) => {
    event.preventDefault();
    jumpTo(scan);
  };
  const jumpTo = (said: string) => {
    const tag = normaliseTag(said);
    if (tag && here.some((s) => s.item.tag === tag)) {
      setChosen(tag);
      setFault(undefined);
    } else setFault(`${said} does not stand on the shelf.`);
    setScan('');
  };

  return (
    <div className="grid gap-6 p-4 md:p-6 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section className="grid content-start gap-4">
        <div className="flex flex-wrap items-end justify-between gap-3">
          <h1 className="text-3xl">
            Walk the shelf <span className="font-medium text-soft">{queue.length} to go</span>
          </h1>
          <form onSubmit={jump} className="flex items-end gap-2">
            <label>
              <span className="label block">Scan or type a tag</span>
              <input
                className="field w-44 uppercase"
                autoComplete="off"
                value={scan}
                onChange={(e) => setScan(e.target.value)}
              />
            </label>
            <button type="submit" className="act-quiet">
              Go to it
            </button>
            <ScanButton what="a tag" onCode={jumpTo} />
          </form>
        </div>
        {current ? (
          <form
            onSubmit={(e) => void submit(e)}
            noValidate
            aria-label={`Read ${current.item.tag}`}
            className="rounded-lg border-2 border-ink bg-sheet p-5"
          >
            <p className="eyebrow text-soft">Now</p>
            <h2 className="text-4xl">{current.item.tag}</h2>
            <p className="text-lg text-soft">
              {current.item.place && <b className="text-ink">{current.item.place}. </b>}
              {current.item.modelCode}, date code {current.item.dateCode}. Last read{' '}
              {current.item.readings.at(-1)?.voltageV.toFixed(2)} V on{' '}
              {formatDateOf(current.item.readings.at(-1)?.at ?? 0, rules)}.
            </p>
            <div className="mt-4 flex flex-wrap items-end gap-4">
              <label className="w-52">
                <span className="label">Rest voltage, V</span>
                <input
                  ref={field}
                  className="field font-label text-4xl! font-semibold"
                  inputMode="decimal"
                  autoComplete="off"
                  value={text}
                  aria-invalid={fault !== undefined}
                  onChange={(e) => {
                    if (!currentTag) return;
                    setTyped({ tag: currentTag, text: e.target.value });
                    keepDraft(draftOf(currentTag), e.target.value || null);
                    setFault(undefined);
                    setProblem(null);
                  }}
                />
              </label>
              <button type="submit" className="act min-h-13!">
                {problem?.code === 'ask' ? 'Yes, save it' : 'Save, next one'}
              </button>
              <p className="text-lg">
                <span className="label block">By forecast</span>
                {current.forecast.volts.low.toFixed(2)}–{current.forecast.volts.high.toFixed(2)} V
              </p>
            </div>
            {(fault ?? problem?.message) && (
              <p role="alert" className="mt-3 rounded-md bg-ochre-pale px-4 py-2 text-lg">
                {fault ?? problem?.message}
              </p>
            )}
          </form>
        ) : (
          <Empty title="Nothing more is due on this walk">
            <p>
              {done.length > 0
                ? `${done.length} read. Those at or below the line stand beside.`
                : 'Every battery was read within its month.'}
            </p>
            {!all && (
              <button type="button" className="act" onClick={() => setAll(true)}>
                Read the others too
              </button>
            )}
            <Link to="/shelf" className="act-quiet">
              Back to the shelf
            </Link>
          </Empty>
        )}
        {queue.length > 1 && (
          <ol aria-label="Next on this walk" className="text-lg">
            {queue
              .filter((s) => s !== current)
              .slice(0, 8)
              .map((s) => (
                <NextOne key={s.item.tag} standing={s} onChoose={() => setChosen(s.item.tag)} />
              ))}
          </ol>
        )}
      </section>
      {correcting && (
        <CorrectShelf
          tag={correcting.tag}
          reading={{ id: correcting.readingId, voltageV: correcting.voltageV }}
          onDone={(voltageV, readingId) => {
            setDone((old) =>
              old.map((d) => (d.tag === correcting.tag ? { ...d, voltageV, readingId } : d)),
            );
            setCorrecting(null);
          }}
          onClose={() => setCorrecting(null)}
        />
      )}
      <aside aria-label="Read on this walk">
        <h2 className="mb-2 border-b-2 border-ink pb-1 text-2xl">Read on this walk</h2>
        {done.length === 0 && <p className="text-lg text-soft">None yet.</p>}
        <ul>
          {done.map((d) => (
            <li
              key={d.tag}
              className="flex min-h-13 flex-wrap items-center gap-x-3 border-b border-line text-lg"
            >
              <b className="font-label text-xl font-semibold whitespace-nowrap">{d.tag}</b>
              <span className={d.wantsCharge ? 'text-oxide' : ''}>
                {d.voltageV.toFixed(2)} V {d.wantsCharge ? '✕ charge it' : '✓'}
              </span>
              <button
                type="button"
                className="wordlink min-h-11 text-soft"
                onClick={() => setCorrecting(d)}
              >
                Correct<span className="sr-only"> the reading of {d.tag}</span>
              </button>
              <span className="ml-auto">
                {d.wantsCharge && <OpenJobButton tag={d.tag} purpose="recharge" />}
              </span>
            </li>
          ))}
        </ul>
      </aside>
    </div>
  );
}

function NextOne({ standing, onChoose }: { standing: ShelfStanding; onChoose: () => void }) {
  return (
    <li className="flex min-h-12 items-center gap-4 border-b border-line max-sm:py-1">
      <button
        type="button"
        className="wordlink min-h-11 font-label text-xl font-semibold whitespace-nowrap"
        onClick={onChoose}
      >
        {standing.item.tag}
      </button>
      <span className="flex grow flex-wrap justify-between gap-x-4 text-soft">
        <span className="max-sm:basis-full">
          {standing.item.place && `${standing.item.place} · `}
          {standing.item.modelCode}
        </span>
        <span>{standing.wants === 'charge' ? standing.because : 'its month is over'}</span>
      </span>
    </li>
  );
}
