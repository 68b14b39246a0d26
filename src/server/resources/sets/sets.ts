import { QueryTypes, type Transaction } from 'sequelize';
import { randomUUID } from 'node:crypto';
import type { EndSet, MakeSet } from '../../../contract/asks.ts';
import type { SetWire } from '../../../contract/wire.ts';
import type { RecoverySummary } from '../../../core/sets/recoverySummary.ts';
import { candidateOf } from '../../../core/sets/candidates.ts';
import { apart, type Candidate, resistanceWords } from '../../../core/sets/candidate.ts';
import { formatStamp } from '../../../core/quantities/format.ts';
import { type Context, once, parsed, readRules } from '../../context.ts';
import { HttpProblem, invalid, notFound } from '../../http/problem.ts';
import type { Store } from '../../store/store.ts';
import type { SetRow } from '../../store/rows.ts';
import {
  begin,
  finish,
  INK,
  MARGIN,
  row,
  rule,
  section,
  SIZES,
  SOFT,
  widthOf,
} from '../documents/page.ts';

/** Recovered batteries that stand on the shelf and are in no set. */
async function candidates(
  store: Store,
  now: number,
  transaction?: Transaction,
): Promise<Candidate[]> {
  interface Row {
    tag: string;
    dateCode: string;
    body: string;
  }
  const rows = await store.sequelize.query<Row>(
    `SELECT b.tag, b.dateCode, r.body, MAX(r.closedAt) FROM stock s JOIN batteries b ON b.id = s.batteryId
       JOIN recovery_summaries r ON r.batteryId = b.id WHERE s.jobId IS NULL GROUP BY b.id ORDER BY b.tag`,
    { type: QueryTypes.SELECT, ...(transaction ? { transaction } : {}) },
  );
  const inSet = new Set(
    (await standing(store, transaction)).flatMap((s) => s.members.map((m) => m.tag)),
  );
  return rows.flatMap(({ tag, dateCode, body }) => {
    const { member } = JSON.parse(body) as RecoverySummary;
    return member && !inSet.has(tag) ? [candidateOf(member, tag, dateCode, now)] : [];
  });
}

async function standing(store: Store, transaction?: Transaction): Promise<SetWire[]> {
  const rows = await store.tables.sets.findAll({
    where: { endedAt: null as never },
    order: [['madeAt', 'DESC']],
    raw: true,
    ...(transaction ? { transaction } : {}),
  });
  return rows.map((r: SetRow) => ({ ...r, members: parsed(r.members) as Candidate[] }));
}

export async function setsAndCandidates(
  store: Store,
  now: number,
): Promise<{ sets: SetWire[]; candidates: Candidate[] }> {
  return { sets: await standing(store), candidates: await candidates(store, now) };
}

/** Keeps a set; its members must be free, of one model, and within the limit of each other. */
export async function makeSet(context: Context, body: MakeSet): Promise<{ id: string }> {
  const { store } = context;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const free = await candidates(store, now, transaction);
    const members = body.tags.map((tag) => free.find((c) => c.tag === tag));
    const missing = body.tags.find((_, i) => !members[i]);
    if (missing)
      throw invalid(
        'tags',
        `${missing} is not free for a set: it is in another, off the shelf, or was never recovered and tested.`,
      );
    const { sets: scales } = await readRules(store, transaction);
    const chosen = members as Candidate[];
    for (const [i, a] of chosen.entries())
      for (const b of chosen.slice(i + 1))
        if (apart(a, b, scales) > scales.limit)
          throw invalid(
            'tags',
            `${a.tag} and ${b.tag} are further apart than a set of this shop may be.`,
          );
    const id = randomUUID();
    await store.tables.sets.create(
      {
        id,
        modelCode: chosen[0]?.modelCode ?? '',
        members: chosen,
        madeAt: now,
        by: by.id,
        endedAt: null,
        ended: null,
        endedBy: null,
      },
      { transaction },
    );
    const data = { type: 'set.made', id, modelCode: chosen[0]?.modelCode ?? '', members: chosen };
    await log(data);
    return { id };
  });
  context.changes.announce({ topic: 'shelf' });
  return answer;
}

/** Takes a set apart, or gives it out; it stays on record. */
export async function endSet(context: Context, id: string, body: EndSet): Promise<{ id: string }> {
  const { store } = context;
  const answer = await once(context, body, async ({ by, now, transaction, log }) => {
    const found = await store.tables.sets.findByPk(id, { raw: true, transaction });
    if (!found) throw notFound('That set');
    if (found.endedAt !== null)
      throw new HttpProblem(409, {
        code: 'out-of-order',
        message: 'That set was ended already.',
        fields: {},
      });
    await store.tables.sets.update(
      { endedAt: now, ended: body.reason, endedBy: by.id },
      { where: { id }, transaction },
    );
    const data = { type: 'set.ended', id, reason: body.reason };
    await log(data);
    return { id };
  });
  context.changes.announce({ topic: 'shelf' });
  return answer;
}

/** The sheet of a set: its members side by side, and how far they are apart. */
export async function setPdf(context: Context, id: string): Promise<Buffer> {
  const found = await context.store.tables.sets.findByPk(id, { raw: true });
  if (!found) throw notFound('That set');
  const rules = await readRules(context.store);
  const members = parsed(found.members) as Candidate[];
  const doc = begin(SIZES[rules.paper], MARGIN, 'Set');
  doc
    .font('strong')
    .fontSize(22)
    .fillColor(INK)
    .text(`Set of ${members.length}, ${found.modelCode}`, MARGIN, MARGIN, { structType: 'H1' });
  doc
    .font('text')
    .fontSize(10)
    .fillColor(SOFT)
    .text(`${rules.shopName}. Matched ${formatStamp(found.madeAt, rules)}.`);
  rule(doc);
  const fifth = widthOf(doc) / 5;
  const widths = [fifth, fifth, fifth, fifth, fifth];
  row(doc, ['Tag', 'Capacity at C20', 'Resistance', 'At rest', 'Age'], widths);
  rule(doc);
  for (const m of members)
    row(
      doc,
      [
        m.tag,
        `${m.capacityAh.toFixed(1)} Ah`,
        resistanceWords(m, 'mOhm') ?? 'not measured',
        `${m.restV.toFixed(2)} V`,
        `${m.ageYears.toFixed(1)} years`,
      ],
      widths,
    );
  section(doc, 'Kept together');
  doc
    .font('text')
    .fontSize(11)
    .text(
      'Charge all of them full before they are joined. One that fails takes the others with it: replace it by its like, or take the set apart. Never in series with new ones.',
    );
  return finish(doc);
}
