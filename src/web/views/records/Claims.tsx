import { Link, useParams } from 'react-router';
import { useState } from 'react';
import type { ClaimWire } from '../../../contract/paperWire.ts';
import type { Problem } from '../../../contract/wire.ts';
import {
  CLAIM_ASKS,
  CLAIM_CAUSES,
  CLAIM_STATUS_WORDS,
  type ClaimFacts,
  type ClaimStatus,
  moveNeedsWords,
  NEXT_STATUS,
} from '../../../core/claims/claim.ts';
import { signerName } from '../../../core/job/signers.ts';
import { formatDate, formatStamp } from '../../../core/quantities/format.ts';
import { ClaimDialog } from '../../inputs/ClaimDialog.tsx';
import { Margin } from '../../inputs/Margin.tsx';
import { ask, pathTo, problemOf } from '../../line/api.ts';
import { useToday } from '../../line/benchClock.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useClaims, useRules, useShop } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Empty, Loading, NotFetched } from '../../line/States.tsx';
import { PlaceNav } from '../../parts/PlaceNav.tsx';
import { RECORD_PAGES } from './recordPages.ts';

const MARKS: Readonly<Record<ClaimStatus, [mark: string, tone: string]>> = {
  open: ['○', 'text-ember-ink'],
  sent: ['→', 'text-slate'],
  settled: ['✓', 'text-moss'],
  refused: ['✕', 'text-oxide'],
};

/** What a claim is moved on by, as a button says it. */
const MOVES: Readonly<Record<ClaimStatus, string>> = {
  open: 'Open again',
  sent: 'Mark as sent',
  settled: 'Settled',
  refused: 'Refused',
};

function Status({ status }: { status: ClaimStatus }) {
  const [mark, tone] = MARKS[status];
  return (
    <span className={`font-semibold whitespace-nowrap ${tone}`}>
      <span aria-hidden>{mark} </span>
      {CLAIM_STATUS_WORDS[status]}
    </span>
  );
}

/** Every claim, those that need something done first; one of them opened. */
export function Claims() {
  const { id } = useParams();
  const { data, error, refetch } = useClaims();
  if (error && !data) return <NotFetched error={error} again={() => void refetch()} />;
  if (!data) return <Loading />;
  const opened = data.claims.find((c) => c.id === id);
  const running = data.claims.filter((c) => c.status === 'open' || c.status === 'sent');
  return (
    <div className="p-4 md:p-6">
      <div className="flex flex-wrap items-start justify-between gap-x-3">
        <h1 className="mb-1 text-3xl">
          Claims{' '}
          <span className="font-medium text-soft">
            {running.length === 0 ? 'none open' : `${running.length} not settled yet`}
          </span>
        </h1>
        <a className="act-quiet -mt-1 mb-1" href={pathTo('claimsCsv')}>
          All claims, CSV
        </a>
      </div>
      <PlaceNav label="Records" pages={RECORD_PAGES} />
      {opened ? (
        <OpenClaim key={opened.id} claim={opened} />
      ) : data.claims.length === 0 ? (
        <Empty title="No claim yet">
          <p>
            A new battery that may not be commissioned is claimed from its job: broken foil, a wrong
            pack, failed twice, damaged. The button “Open a claim” stands there.
          </p>
        </Empty>
      ) : (
        <ClaimTable claims={data.claims} />
      )}
    </div>
  );
}

function ClaimTable({ claims }: { claims: readonly ClaimWire[] }) {
  const wall = useRules();
  const today = useToday(wall.timeZone);
  const rank = (c: ClaimWire) => ['open', 'sent', 'refused', 'settled'].indexOf(c.status);
  const sorted = [...claims].sort((a, b) => rank(a) - rank(b) || b.number - a.number);
  return (
    <ul>
      {sorted.map((c) => {
        const late = c.status === 'open' && c.body.sendBy !== '' && c.body.sendBy < today;
        return (
          <li
            key={c.id}
            className="relative flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-line py-3 text-lg hover:bg-hair"
          >
            <Link
              to={`/records/claims/${c.id}`}
              className="w-28 font-label text-xl font-semibold after:absolute after:inset-0"
            >
              {c.number} · {c.tag}
            </Link>
            <span className="w-24">
              <Status status={c.status} />
            </span>
            <span className="min-w-64 flex-1">
              {CLAIM_CAUSES[c.body.cause]}
              <span className="text-soft"> · {c.modelCode}</span>
              {c.body.supplier && <span className="text-soft"> · {c.body.supplier}</span>}
            </span>
            <span className={late ? 'font-semibold text-oxide' : 'text-soft'}>
              {c.status === 'open' && c.body.sendBy
                ? `${late ? '✕ was due' : 'Send by'} ${formatDate(c.body.sendBy, wall)}`
                : formatStamp(c.history.at(-1)?.at ?? c.openedAt, wall)}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function OpenClaim({ claim }: { claim: ClaimWire }) {
  const wall = useRules();
  const people = useShop().data?.people ?? [];
  const { sign } = useSigning();
  const [editing, setEditing] = useState(false);
  const [moving, setMoving] = useState<ClaimStatus | null>(null);
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<Problem | null>(null);
  const { body } = claim;

  const change = async (fields: { claim?: ClaimFacts; status?: ClaimStatus; text: string }) => {
    const by = await sign();
    if (!by) return null;
    try {
      await ask('changeClaim', {
        params: { id: claim.id },
        body: { commandId: newId(), by, ...fields },
      });
      await queryClient.invalidateQueries({ queryKey: ['claims'] });
      return null;
    } catch (error) {
      return problemOf(error);
    }
  };
  const move = async () => {
    if (!moving) return;
    const found = await change({ status: moving, text: text.trim() });
    setProblem(found);
    if (found) return;
    setMoving(null);
    setText('');
  };
  return (
    <div className="grid items-start gap-5 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <div className="grid content-start gap-5">
        <section className="rounded-lg border border-line bg-sheet p-5">
          <div className="flex flex-wrap items-baseline justify-between gap-3">
            <h2 className="text-3xl">
              Claim {claim.number}{' '}
              <Link to={`/batteries/${claim.tag}`} className="wordlink">
                {claim.tag}
              </Link>
            </h2>
            <p className="text-xl">
              <Status status={claim.status} />
            </p>
          </div>
          <p className="mt-2 text-xl">{body.what}</p>
          <dl className="mt-4 grid gap-x-6 gap-y-2 sm:grid-cols-3">
            {[
              ['What is wrong', CLAIM_CAUSES[body.cause]],
              ['We ask for', CLAIM_ASKS[body.asks]],
              ['Model', claim.modelCode],
              ['Bought from', body.supplier || 'not known'],
              ['Bought on', body.boughtOn ? formatDate(body.boughtOn, wall) : 'not known'],
              ['Invoice or order', body.invoice || 'not known'],
              ['Send by', body.sendBy ? formatDate(body.sendBy, wall) : 'no limit'],
            ].map(([label, value]) => (
              <div key={label}>
                <dt className="label">{label}</dt>
                <dd className="text-lg">{value}</dd>
              </div>
            ))}
          </dl>
          <div className="mt-4 flex flex-wrap gap-2">
            <a
              className={claim.status === 'open' ? 'act' : 'act-quiet'}
              href={pathTo('claimPdf', { params: { id: claim.id } })}
            >
              Claim as PDF
            </a>
            {NEXT_STATUS[claim.status].map((next) => (
              <button
                key={next}
                type="button"
                className="act-quiet"
                onClick={() => {
                  setProblem(null);
                  setMoving(next);
                }}
              >
                {MOVES[next]}
              </button>
            ))}
            {claim.status === 'open' && (
              <button type="button" className="act-quiet" onClick={() => setEditing(true)}>
                Change
              </button>
            )}
            {claim.jobId && (
              <Link to={`/jobs/${claim.jobId}`} className="act-quiet">
                Its job
              </Link>
            )}
          </div>
          {moving && (
            <form
              className="mt-4 flex flex-wrap items-end gap-2"
              onSubmit={(e) => {
                e.preventDefault();
                void move();
              }}
            >
              <label className="min-w-64 flex-1">
                <span className="label">
                  {moving === 'sent'
                    ? 'How and to whom, if you like'
                    : moving === 'open'
                      ? 'Why'
                      : 'What they answered'}
                </span>
                <input
                  className="field"
                  value={text}
                  maxLength={500}
                  onChange={(e) => setText(e.target.value)}
                />
              </label>
              <button
                type="submit"
                className="act"
                disabled={moveNeedsWords(moving) && text.trim() === ''}
              >
                Save
              </button>
              <button type="button" className="act-quiet" onClick={() => setMoving(null)}>
                Back
              </button>
            </form>
          )}
          {problem && (
            <p role="alert" className="mt-2 text-oxide">
              {problem.message}
            </p>
          )}
        </section>
        <Margin
          tag={claim.tag}
          about={{ claimId: claim.id, ...(claim.jobId ? { jobId: claim.jobId } : {}) }}
          shows={(n) => n.claimId === claim.id || (claim.jobId !== null && n.jobId === claim.jobId)}
          title="Pictures and notes for this claim"
        />
      </div>
      <section aria-label="History" className="rounded-lg border border-line bg-sheet p-5">
        <h2 className="mb-2 text-2xl">History</h2>
        <ol>
          {claim.history.toReversed().map((h) => (
            <li key={`${h.at} ${h.status}`} className="border-b border-hair py-2 text-lg">
              <Status status={h.status} />{' '}
              <span className="text-base text-soft">
                {formatStamp(h.at, wall)}, {signerName(h.by, people)}
              </span>
              {h.text && <span className="block">{h.text}</span>}
            </li>
          ))}
        </ol>
      </section>
      {editing && (
        <ClaimDialog
          tag={claim.tag}
          initial={body}
          act="Save changes"
          onSend={(facts) => change({ claim: facts, text: '' })}
          onClose={() => setEditing(false)}
        />
      )}
    </div>
  );
}
