import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import type { DrillWire } from '../../../contract/drillWire.ts';
import type { Person } from '../../../contract/wire.ts';
import { MARK_KEYS } from '../../../core/drill/case.ts';
import { caseByCode } from '../../../core/drill/cases/catalogue.ts';
import { DECISION_WORDS, MARK_WORDS } from '../../../core/drill/words.ts';
import { formatDateOf, formatDuration } from '../../../core/quantities/format.ts';
import { ask, problemOf } from '../../line/api.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useRules } from '../../line/queries.ts';
import type { Attempt } from '../../sandbox/attempts.ts';

/** Cases that a lead has given to this person and that were not done since. */
export function Given({
  assigned,
  mine,
  people,
  begin,
}: {
  assigned: DrillWire['assigned'];
  mine: readonly Attempt[];
  people: readonly Person[];
  begin: (code: string) => void;
}) {
  const open = assigned.filter(
    (a) => !mine.some((m) => m.code === a.code && m.result !== null && (m.endedAt ?? 0) > a.at),
  );
  if (open.length === 0) return null;
  return (
    <section aria-label="Given to you" className="mb-6 max-w-5xl">
      <h2 className="mb-1 text-2xl">Given to you</h2>
      <ul>
        {open.map(({ id, code, by, note }) => (
          <li
            key={id}
            className="flex min-h-14 flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-2"
          >
            <b className="w-28 font-label text-lg font-semibold">{code}</b>
            <span className="min-w-0 flex-1 basis-60 text-lg">
              {caseByCode(code)?.title ?? 'A case of this shop'}
              <span className="block text-[15px] text-soft">
                by {people.find((p) => p.id === by)?.name ?? 'the lead'}
                {note && `: ${note}`}
              </span>
            </span>
            <button
              type="button"
              className="act"
              onClick={() => begin(code)}
              aria-label={`Begin ${code}, given to you`}
            >
              Begin
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** For a lead: how people do who share it, and a case to give out. */
export function ForTheLead({
  lead,
  people,
  drill,
}: {
  lead: Person;
  people: readonly Person[];
  drill: DrillWire;
}) {
  const wall = useRules();
  const { results, assigned } = drill;
  const nameOf = (id: string): string => people.find((p) => p.id === id)?.name ?? 'Somebody';
  return (
    <section aria-label="For the lead" className="mb-6 max-w-5xl border-t border-line pt-4">
      <h2 className="mb-1 text-2xl">For the lead</h2>
      <GiveCase lead={lead} people={people} own={drill.cases.map((c) => c.code)} />
      <p className="mb-3">
        <Link to="/drill/write" className="act-quiet">
          Write a case
        </Link>
      </p>
      {results.length === 0 ? (
        <p className="text-soft">
          Nobody has shared a result yet. Whoever has done a case may share it where it is looked
          back on.
        </p>
      ) : (
        <table className="max-lg:as-list w-full text-lg">
          <thead>
            <tr className="label text-left">
              <th className="py-1 pr-4 font-medium">Who</th>
              <th className="py-1 pr-4 font-medium">Case</th>
              <th className="py-1 pr-4 font-medium">Decided</th>
              {MARK_KEYS.map((key) => (
                <th key={key} className="py-1 pr-4 text-right font-medium">
                  {MARK_WORDS[key].name}
                </th>
              ))}
              <th className="py-1 text-right font-medium">Hands</th>
            </tr>
          </thead>
          <tbody>
            {results.map((r) => (
              <tr key={r.id} className="border-t border-line">
                <td className="py-2 pr-4">
                  {nameOf(r.personId)}
                  <span className="block text-[15px] text-soft">
                    {formatDateOf(r.endedAt, wall)}
                  </span>
                </td>
                <td className="py-2 pr-4" data-label="Case">
                  {r.code}{' '}
                  <span className={r.passed ? 'text-moss' : 'text-oxide'}>
                    {r.passed ? '✓ passed' : '✕ failed'}
                  </span>
                </td>
                <td className="py-2 pr-4" data-label="Decided">
                  {r.decision === null ? 'not' : DECISION_WORDS[r.decision]}
                </td>
                {MARK_KEYS.map((key) => (
                  <td key={key} className="py-2 pr-4 text-right" data-label={MARK_WORDS[key].name}>
                    {r.points[key].toFixed(0)}
                  </td>
                ))}
                <td className="py-2 text-right" data-label="Hands">
                  {formatDuration(60 * r.handsMin)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {assigned.length > 0 && (
        <p className="mt-2 text-soft">
          Given out:{' '}
          {assigned
            .slice(0, SHOWN)
            .map((a) => `${a.code} to ${nameOf(a.personId)}`)
            .join(', ')}
          .
        </p>
      )}
    </section>
  );
}

const SHOWN = 8;

function GiveCase({
  lead,
  people,
  own,
}: {
  lead: Person;
  people: readonly Person[];
  /** Codes of the shop’s own cases. */
  own: readonly string[];
}) {
  const others = people.filter((p) => p.active);
  const [personId, setPersonId] = useState('');
  const [code, setCode] = useState('');
  const [note, setNote] = useState('');
  const [said, setSaid] = useState<{ text: string; bad: boolean } | null>(null);
  const typed = code.trim().toUpperCase();
  const found = own.includes(typed) ? typed : caseByCode(typed)?.code;
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    if (!found || personId === '') return;
    try {
      await ask('assignDrill', {
        body: { commandId: newId(), by: lead.id, personId, code: found, note: note.trim() },
      });
      await queryClient.invalidateQueries({ queryKey: ['drill'] });
      setSaid({ text: `${found} is given out.`, bad: false });
      setCode('');
      setNote('');
    } catch (error) {
      setSaid({ text: problemOf(error).message, bad: true });
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} className="mb-3 flex flex-wrap items-end gap-3">
      <label>
        <span className="label block">Give a case to</span>
        <select
          className="field w-56"
          value={personId}
          onChange={(e) => setPersonId(e.target.value)}
        >
          <option value="">Choose</option>
          {others.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="label block">Its code</span>
        <input
          className="field w-40 uppercase"
          value={code}
          onChange={(e) => setCode(e.target.value)}
          autoComplete="off"
          spellCheck={false}
          placeholder="R-07"
        />
      </label>
      <label className="min-w-0 flex-1 basis-52">
        <span className="label block">Why, if you like</span>
        <input
          className="field"
          value={note}
          maxLength={200}
          onChange={(e) => setNote(e.target.value)}
        />
      </label>
      <button type="submit" className="act" disabled={!found || personId === ''}>
        Give it out
      </button>
      <p
        role="status"
        className={`w-full ${said?.bad ? 'text-oxide' : 'text-soft'} ${said || (code && !found) ? '' : 'hidden'}`}
      >
        {said?.text ?? 'No case has this code.'}
      </p>
    </form>
  );
}
