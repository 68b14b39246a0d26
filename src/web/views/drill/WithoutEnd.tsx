import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import type { DrillCase } from '../../../core/drill/case.ts';
import { GENERATED_LEVELS, type GeneratedLevel, newCode } from '../../../core/drill/generate.ts';
import type { Attempt } from '../../sandbox/attempts.ts';
import { Standing } from './Standing.tsx';

/** A battery that nobody has written: drawn by its code, so that two people can be compared on the same one. */
export function WithoutEnd({
  caseOf,
  begin,
  last,
}: {
  caseOf: (code: string) => DrillCase | undefined;
  begin: (code: string) => void;
  last: Attempt | undefined;
}) {
  const [level, setLevel] = useState<GeneratedLevel>(2);
  const [code, setCode] = useState('');
  const typed = code.trim() === '' ? null : caseOf(code);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (typed) begin(typed.code);
  };
  return (
    <section
      aria-label="Cases without end"
      className="mb-6 grid max-w-5xl gap-x-10 gap-y-4 border-y border-line py-4 md:grid-cols-2"
    >
      <div>
        <h2 className="text-2xl">Cases without end</h2>
        <p className="mb-2 text-soft">
          A battery drawn by chance. Its code is the same battery for everybody.
        </p>
        <div role="group" aria-label="Level" className="mb-2 flex gap-2">
          {GENERATED_LEVELS.map((l) => (
            <button
              key={l}
              type="button"
              aria-pressed={l === level}
              aria-label={`Level ${l}`}
              className={`act-quiet min-w-12 px-3! ${l === level ? 'bg-hair ring-2 ring-ink' : ''}`}
              onClick={() => setLevel(l)}
            >
              {l}
            </button>
          ))}
          <button type="button" className="act" onClick={() => begin(newCode(level, Math.random))}>
            Draw one
          </button>
        </div>
        {last && (
          <p className="flex flex-wrap items-center gap-3 text-soft">
            Last one: {last.code} <Standing attempt={last} />
            {last.endedAt !== null && (
              <Link
                to={`/drill/back/${last.id}`}
                className="wordlink inline-flex min-h-11 items-center"
              >
                Look back
              </Link>
            )}
          </p>
        )}
      </div>
      <form onSubmit={submit} className="self-start">
        <label>
          <span className="label">Code of a case, from somebody else</span>
          <span className="flex gap-2">
            <input
              className="field max-w-60 uppercase"
              value={code}
              onChange={(e) => setCode(e.target.value)}
              aria-invalid={typed === undefined}
              placeholder="G12-7KQ2M"
              autoComplete="off"
              spellCheck={false}
            />
            <button type="submit" className="act-quiet" disabled={!typed}>
              Begin it
            </button>
          </span>
        </label>
        {typed === undefined && code.length >= 9 && (
          <p role="alert" className="mt-1 text-oxide">
            No case has this code. It looks like G12-7KQ2M or R-01.
          </p>
        )}
      </form>
    </section>
  );
}
