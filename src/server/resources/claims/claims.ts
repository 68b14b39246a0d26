import { randomUUID } from 'node:crypto';
import type { ChangeClaim, OpenClaim } from '../../../contract/asks.ts';
import type { ClaimWire } from '../../../contract/paperWire.ts';
import type { CatalogueModel } from '../../../contract/wire.ts';
import {
  CLAIM_ASKS,
  CLAIM_CAUSES,
  CLAIM_STATUS_WORDS,
  type ClaimMove,
  type ClaimStatus,
  moveFault,
} from '../../../core/claims/claim.ts';
import { claimPaper } from '../../../core/claims/claimPaper.ts';
import { sayAllIn } from '../../../core/quantities/shopUnits.ts';
import { csvText } from '../../../core/exchange/csv.ts';
import { isoOf } from '../../http/isoOf.ts';
import { signerName } from '../../../core/job/signers.ts';
import { type Context, once, parsed, readRules } from '../../context.ts';
import { conflict, invalid, notFound } from '../../http/problem.ts';
import type { ClaimRow } from '../../store/rows.ts';
import type { Store } from '../../store/store.ts';
import { batteriesById } from '../jobs/jobWires.ts';
import { readJob } from '../jobs/jobs.ts';
import { modelNow } from '../models/models.ts';
import { standingNotes } from '../notes/notes.ts';
import { peopleOf } from '../people/people.ts';
import { wordsOf } from '../documents/sheets.ts';
import { claimDocument } from '../documents/claimPdf.ts';

/** A new battery that may not be commissioned, and what became of asking for another. */

/** Every claim, or those of one battery or standing, the newest first. */
export async function claimsOf(
  store: Store,
  of: { batteryId?: string; status?: ClaimStatus } = {},
): Promise<ClaimWire[]> {
  const rows = await store.tables.claims.findAll({
    where: of,
    order: [['number', 'DESC']],
    raw: true,
  });
  const batteries = await batteriesById(
    store,
    rows.map((r) => r.batteryId),
  );
  return rows.map(({ batteryId, ...row }) => {
    const battery = batteries.get(batteryId);
    return {
      ...row,
      tag: battery?.tag ?? '',
      modelCode: battery?.modelCode ?? '',
      body: parsed(row.body) as ClaimWire['body'],
      history: parsed(row.history) as ClaimMove[],
    };
  });
}

/** Claims that are not sent yet and have a last day for it. */
export async function unsentClaims(
  store: Store,
): Promise<{ id: string; tag: string; sendBy: string }[]> {
  return (await claimsOf(store, { status: 'open' }))
    .map(({ id, tag, body }) => ({ id, tag, sendBy: body.sendBy }))
    .filter((c) => c.sendBy !== '');
}

/** Opens a claim. A battery has one that is not over at a time. */
export async function openClaim(
  context: Context,
  tag: string,
  body: OpenClaim,
): Promise<{ id: string }> {
  const { batteries, claims, jobs } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const battery = await batteries.findOne({ where: { tag }, raw: true, transaction });
    if (!battery) throw notFound(`Battery ${tag}`);
    const { jobId, claim } = body;
    if (jobId !== null) {
      const job = await jobs.findOne({
        where: { id: jobId, batteryId: battery.id },
        attributes: ['status'],
        raw: true,
        transaction,
      });
      if (!job) throw notFound('That job of this battery');
      if (job.status === 'running')
        throw conflict(`${tag} is still being worked on. End its job before you claim.`);
    }
    const running = await claims.findOne({
      where: { batteryId: battery.id, status: ['open', 'sent'] },
      raw: true,
      transaction,
    });
    if (running) throw conflict(`${tag} has claim ${running.number} already.`);
    const id = randomUUID();
    const number = Number((await claims.max('number', { transaction })) ?? 0) + 1;
    await claims.create(
      {
        id,
        number,
        batteryId: battery.id,
        jobId,
        openedAt: now,
        by: by.id,
        status: 'open',
        body: claim,
        history: [{ at: now, by: by.id, status: 'open', text: '' }],
      },
      { transaction },
    );
    if (claim.supplier && !battery.supplier)
      await batteries.update(
        { supplier: claim.supplier },
        { where: { id: battery.id }, transaction },
      );
    await log({ type: 'claim.opened', number, claim }, battery.id);
    return { id };
  });
  context.changes.announce({ topic: 'claims', tag });
  return answer;
}

/** Changes what an open claim says, or moves it on. What it said before stays in the log. */
export async function changeClaim(
  context: Context,
  id: string,
  body: ChangeClaim,
): Promise<{ id: string }> {
  const { claims } = context.store.tables;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const row = await claims.findByPk(id, { raw: true, transaction });
    if (!row) throw notFound('That claim');
    const { claim, status, text } = body;
    if (claim && row.status !== 'open')
      throw conflict('It was sent as it is. Open it again to change it.');
    const fault = status ? moveFault(row.status, status, text) : null;
    if (fault) throw fault.field ? invalid(fault.field, fault.message) : conflict(fault.message);
    const move = { at: now, by: by.id, status: status ?? row.status, text };
    await claims.update(
      {
        ...(claim ? { body: claim } : {}),
        status: move.status,
        history: [...(parsed(row.history) as ClaimMove[]), ...(status ? [move] : [])],
      },
      { where: { id }, transaction },
    );
    await log(
      {
        type: status ? 'claim.moved' : 'claim.changed',
        number: row.number,
        status: move.status,
        text,
        ...(claim ? { claim } : {}),
      },
      row.batteryId,
    );
    return { id };
  });
  context.changes.announce({ topic: 'claims' });
  return answer;
}

/** A claim as a file to send: what is wrong, every reading, pictures, who decided. */
export async function claimPdf(
  context: Context,
  id: string,
): Promise<{ name: string; pdf: Buffer }> {
  const { store, clock } = context;
  const row: ClaimRow | null = await store.tables.claims.findByPk(id, { raw: true });
  if (!row) throw notFound('That claim');
  const battery = (await batteriesById(store, [row.batteryId])).get(row.batteryId);
  if (!battery) throw notFound('Its battery');
  const model = modelNow(
    (await store.tables.models.findByPk(battery.modelId, { raw: true })) as CatalogueModel,
  );
  const rules = await readRules(store);
  const people = await peopleOf(store);
  const paper = claimPaper(
    {
      number: row.number,
      tag: battery.tag,
      dateCode: battery.dateCode,
      takenInAt: battery.takenInAt,
      model,
      claim: parsed(row.body) as ClaimWire['body'],
      job: row.jobId === null ? null : await readJob(store, row.jobId),
    },
    wordsOf(rules, people),
  );
  const notes = await standingNotes(store, { claimId: id, jobId: row.jobId });
  const pdf = await claimDocument(sayAllIn(paper, rules), notes, {
    rules,
    printedAt: clock.now(),
    file: store.file,
    nameOf: (person) => signerName(person, people),
  });
  return { name: `claim-${row.number}-${battery.tag}.pdf`, pdf };
}

/** Every claim as a table. */
export async function claimsCsv(store: Store): Promise<string> {
  const people = await peopleOf(store);
  const claims = await claimsOf(store);
  return csvText(
    [
      'Claim',
      'Tag',
      'Model',
      'Cause',
      'What',
      'Bought from',
      'Bought on',
      'Invoice',
      'Asks for',
      'Send by',
      'Status',
      'Opened / ISO 8601',
      'Opened by',
      'Last change / ISO 8601',
      'Answer',
    ],
    claims.map(({ number, tag, modelCode, body, status, openedAt, by, history }) => [
      number,
      tag,
      modelCode,
      CLAIM_CAUSES[body.cause],
      body.what,
      body.supplier,
      body.boughtOn,
      body.invoice,
      CLAIM_ASKS[body.asks],
      body.sendBy,
      CLAIM_STATUS_WORDS[status],
      isoOf(openedAt),
      signerName(by, people),
      isoOf(history.at(-1)?.at ?? openedAt),
      history.at(-1)?.text ?? '',
    ]),
  );
}
