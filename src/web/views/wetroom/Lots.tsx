import { sayIn } from '../../../core/quantities/shopUnits.ts';
import { type FormEvent, type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { notice } from '../../line/notices.ts';
import type { AddLot } from '../../../contract/asks.ts';
import type { Lot, LotKind, Problem } from '../../../contract/wire.ts';
import { signerName } from '../../../core/job/signers.ts';
import {
  formatMoment,
  formatDateOf,
  formatVolume,
  type WallStyle,
} from '../../../core/quantities/format.ts';
import { parseReading } from '../../../core/quantities/parseReading.ts';
import { momentOfWallTime } from '../../../core/quantities/zonedTime.ts';
import { ProblemError, ask } from '../../line/api.ts';
import { useMinute } from '../../line/benchClock.ts';
import { newId } from '../../line/newId.ts';
import { queryClient, useLots, useRules, useShop } from '../../line/queries.ts';
import { useSigning } from '../../line/signing.tsx';
import { Loading } from '../../line/States.tsx';
import { DialogBack, OpenDialog } from '../../parts/DialogFrame.tsx';
import { HoldLine } from '../../inputs/Hold.tsx';
import { DayField } from '../../parts/DayField.tsx';
import { Labelled } from '../../parts/Labelled.tsx';
import { Bay } from './Bay.tsx';

const KIND_WORDS: Record<LotKind, string> = {
  pack: 'Tube packs',
  acid: 'Bulk acid',
  water: 'Distilled water',
};
/** A lot is running low below this share. */
const LOW = 0.15;
const MONTH_MS = 30 * 86_400_000;

/** Electrolyte in stock: what is left of each lot, when it expires, who took from it and for which battery. */
export function Lots() {
  const now = useMinute();
  const rules = useRules();
  const people = useShop().data?.people ?? [];
  const { data } = useLots();
  const [adding, setAdding] = useState(false);
  return (
    <Bay
      title="Electrolyte in stock"
      aside={
        <button type="button" className="act-quiet" onClick={() => setAdding(true)}>
          Add a lot
        </button>
      }
    >
      {!data ? (
        <Loading />
      ) : data.lots.length === 0 ? (
        <p className="text-lg text-soft">
          No lot is kept count of. Jobs may still write down the lot they used; counted lots also
          say what is left.
        </p>
      ) : (
        <ul>
          {data.lots.map((lot) => (
            <li key={lot.code} className="border-b border-line py-2">
              <div className="flex items-center gap-3">
                <p className="min-w-0 flex-1 text-lg leading-tight">
                  <b className="font-label text-xl font-semibold">{lot.code}</b>{' '}
                  <span className="text-soft">
                    {KIND_WORDS[lot.kind]}
                    {lot.packCode && ` ${lot.packCode}`}
                    {lot.sg !== null && `, SG ${lot.sg.toFixed(3)}`}
                  </span>
                  <Expiry lot={lot} now={now} wall={rules} />
                  {lot.supplier && (
                    <span className="block text-[15px] text-soft">from {lot.supplier}</span>
                  )}
                </p>
                <p className="text-right leading-tight">
                  <b
                    className={`font-label text-2xl font-semibold ${lot.leftMl <= LOW * lot.quantityMl ? 'text-oxide' : ''}`}
                  >
                    {formatVolume(Math.max(0, lot.leftMl), rules.volumeUnit)}
                  </b>
                  <span className="block text-[15px] text-soft">
                    of {formatVolume(lot.quantityMl, rules.volumeUnit)}
                  </span>
                </p>
              </div>
              <HoldLine what="lot" code={lot.code} />
              <details>
                <summary className="wordlink min-h-11 w-fit cursor-pointer py-2 text-soft">
                  {lot.uses.length === 0 ? 'Nothing taken yet' : 'What was taken'}
                </summary>
                <ul className="pb-1">
                  {lot.uses.map((u) => (
                    <li key={`${u.at}${u.ml}${u.jobId}`} className="flex gap-3">
                      <span className="w-24 text-soft">{formatMoment(u.at, now, rules)}</span>
                      <span className="w-20 text-right">
                        {formatVolume(u.ml, rules.volumeUnit)}
                      </span>
                      <span className="min-w-0 flex-1 truncate">
                        {u.jobId && u.tag ? (
                          <Link to={`/jobs/${u.jobId}`} className="wordlink">
                            {u.tag}
                          </Link>
                        ) : (
                          u.why
                        )}
                      </span>
                      <span className="text-soft">{signerName(u.by, people)}</span>
                    </li>
                  ))}
                </ul>
                <UseForm lot={lot} />
              </details>
            </li>
          ))}
        </ul>
      )}
      {adding && <AddDialog onClose={() => setAdding(false)} />}
    </Bay>
  );
}

function Expiry({ lot, now, wall }: { lot: Lot; now: number; wall: WallStyle }): ReactNode {
  if (lot.expiresAt === null) return null;
  const over = lot.expiresAt <= now;
  const soon = !over && lot.expiresAt - now < MONTH_MS;
  return (
    <span className={`block text-[15px] ${over ? 'text-oxide' : soon ? 'text-ink' : 'text-soft'}`}>
      {over ? '✕ expired' : soon ? '◆ expires' : 'expires'} {formatDateOf(lot.expiresAt, wall)}
    </span>
  );
}

/** Takes from a lot outside a job. */
function UseForm({ lot }: { lot: Lot }) {
  const { sign } = useSigning();
  const rules = useRules();
  const [amount, setAmount] = useState('');
  const [why, setWhy] = useState('');
  const [fault, setFault] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const ml = parseReading(amount, 'volume', rules);
    if (!ml.ok) return setFault(ml.message);
    const by = await sign();
    if (!by) return;
    try {
      await ask('useLot', {
        params: { code: lot.code },
        body: { commandId: newId(), by, ml: ml.value, why: why.trim() },
      });
      await queryClient.invalidateQueries({ queryKey: ['lots'] });
      setAmount('');
      setWhy('');
      setFault(undefined);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <form onSubmit={(e) => void submit(e)} className="flex flex-wrap items-end gap-2 pb-2">
      <label className="w-28">
        <span className="label">Take, {rules.volumeUnit}</span>
        <input
          className="field"
          inputMode="decimal"
          value={amount}
          onChange={(e) => setAmount(e.target.value)}
        />
      </label>
      <label className="min-w-36 flex-1">
        <span className="label">What for</span>
        <input className="field" value={why} onChange={(e) => setWhy(e.target.value)} />
      </label>
      <button
        type="submit"
        className="act-quiet"
        disabled={amount.trim() === '' || why.trim() === ''}
      >
        Take it
      </button>
      {fault && <p className="w-full text-oxide">{fault}</p>}
    </form>
  );
}

function AddDialog({ onClose }: { onClose: () => void }) {
  const { sign } = useSigning();
  const rules = useRules();
  const [kind, setKind] = useState<LotKind>('acid');
  const [texts, setTexts] = useState({
    code: '',
    packCode: '',
    sg: '1.265',
    quantity: '',
    supplier: '',
  });
  const [expires, setExpires] = useState('');
  const [faults, setFaults] = useState<Record<string, string>>({});
  const set = (key: keyof typeof texts) => (e: { target: { value: string } }) => {
    setTexts((old) => ({ ...old, [key]: e.target.value }));
    setFaults({});
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const quantity = parseReading(texts.quantity, 'volume', rules);
    const sg = kind === 'acid' ? parseReading(texts.sg, 'specificGravity') : null;
    const found = {
      ...(quantity.ok ? {} : { 'lot.quantityMl': quantity.message }),
      ...(sg?.ok === false ? { 'lot.sg': sg.message } : {}),
    };
    setFaults(found);
    if (!quantity.ok || sg?.ok === false) return;
    const by = await sign();
    if (!by) return;
    const body: AddLot = {
      commandId: newId(),
      by,
      lot: {
        code: texts.code.trim(),
        kind,
        packCode: kind === 'pack' ? texts.packCode.trim() : null,
        sg: sg?.ok ? sg.value : null,
        quantityMl: quantity.value,
        expiresAt: expires === '' ? null : momentOfWallTime(`${expires}T23:59`, rules.timeZone),
        supplier: texts.supplier.trim(),
      },
    };
    try {
      await ask('addLot', { body });
      await queryClient.invalidateQueries({ queryKey: ['lots'] });
      notice.success(`Lot ${body.lot.code} is in stock.`);
      onClose();
    } catch (error) {
      const fields: Problem['fields'] = error instanceof ProblemError ? error.problem.fields : {};
      setFaults(Object.keys(fields).length > 0 ? fields : { root: (error as Error).message });
    }
  };
  const field = (key: keyof typeof texts, label: string, fault: string) => (
    <Labelled label={label} message={faults[fault]}>
      <input
        className="field"
        autoComplete="off"
        value={texts[key]}
        onChange={set(key)}
        aria-invalid={!!faults[fault]}
      />
    </Labelled>
  );
  return (
    <OpenDialog
      onClose={onClose}
      title="Add a lot"
      description="What came in. Jobs take from it by its code."
    >
      <form onSubmit={(e) => void submit(e)} noValidate className="grid gap-3">
        <Labelled label="What it is">
          <select
            className="field"
            value={kind}
            onChange={(e) => setKind(e.target.value as LotKind)}
          >
            {Object.entries(KIND_WORDS).map(([key, word]) => (
              <option key={key} value={key}>
                {word}
              </option>
            ))}
          </select>
        </Labelled>
        <div className="grid grid-cols-2 gap-3">
          {field('code', 'Lot', 'lot.code')}
          {kind === 'pack' && field('packCode', 'Code of the packs', 'lot.packCode')}
          {kind === 'acid' && field('sg', sayIn('SG at 25 °C', rules), 'lot.sg')}
          {field('quantity', `In all, ${rules.volumeUnit}`, 'lot.quantityMl')}
          {field('supplier', 'Bought from (if known)', 'lot.supplier')}
          <DayField
            label="Expires (empty: never)"
            value={expires}
            wall={rules}
            message={faults['lot.expiresAt']}
            onChange={setExpires}
          />
        </div>
        {faults['root'] && (
          <p role="alert" className="text-oxide">
            {faults['root']}
          </p>
        )}
        <div className="mt-1 flex justify-end gap-3">
          <DialogBack />
          <button type="submit" className="act" disabled={texts.code.trim() === ''}>
            Into stock
          </button>
        </div>
      </form>
    </OpenDialog>
  );
}
