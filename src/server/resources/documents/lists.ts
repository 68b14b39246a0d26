import { handsAt } from '../../../core/house/hours.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { nextHand } from '../../../core/watch/hands.ts';
import { settle } from '../../../core/steps/settle.ts';
import { OUTCOME_WORDS } from '../../../core/job/outcome.ts';
import { readyAt } from '../../../core/watch/timeline.ts';
import { formatMoment, formatDateOf, formatStamp } from '../../../core/quantities/format.ts';
import { type Context, readRules } from '../../context.ts';
import { notFound } from '../../http/problem.ts';
import { batteriesById, jobsOfBattery } from '../jobs/jobWires.ts';
import { procedureOf } from '../jobs/jobs.ts';
import type { ShelfLine } from '../shelf/shelf.ts';
import {
  barcode,
  begin,
  type Document,
  finish,
  INK,
  MARGIN,
  MM,
  row,
  rule,
  section,
  SIZES,
  SOFT,
  squareCode,
  widthOf,
} from './page.ts';
import { refusalWords } from '../../../core/job/refusalWords.ts';

/** Papers about many batteries at once: the shelf, a tray, a sheet of tags. */

function title(doc: Document, words: string, below: string): void {
  doc.font('strong').fontSize(22).fillColor(INK).text(words, MARGIN, MARGIN, { structType: 'H1' });
  doc.font('text').fontSize(10).fillColor(SOFT).text(below);
  rule(doc);
}

/** The shelf, longest standing first, with a box to tick and a line to write on. */
export async function shelfListPdf(
  lines: readonly ShelfLine[],
  rules: HouseRules,
  now: number,
): Promise<Buffer> {
  const doc = begin(SIZES[rules.paper], MARGIN, 'Shelf');
  const width = widthOf(doc);
  const widths = [62, 62, 74, 74, 92, 78, width - 442];
  title(
    doc,
    'Shelf',
    `${rules.shopName}. ${lines.length} batteries, first in first out. Printed ${formatStamp(now, rules)}.`,
  );
  row(
    doc,
    ['Tag', 'Model', 'Since', 'Last read', 'Charge today', 'Recharge by', 'Volts now'],
    widths,
  );
  rule(doc);
  for (const l of lines)
    row(
      doc,
      [
        l.tag,
        l.model,
        formatDateOf(l.since, rules),
        `${l.lastV.toFixed(2)} V`,
        l.percent,
        l.wants === 'charge'
          ? 'now'
          : Number.isFinite(l.rechargeAt)
            ? formatDateOf(l.rechargeAt, rules)
            : '–',
        l.wants === 'on the bench' ? 'on the bench' : '________',
      ],
      widths,
    );
  if (lines.length === 0)
    doc.font('text').fontSize(11).fillColor(SOFT).text('Nothing stands on the shelf.');
  return finish(doc);
}

/** A tray on one page: its batteries side by side, what each is at or came to. */
export async function trayPdf(context: Context, trayId: string): Promise<Buffer> {
  const { store, clock } = context;
  const now = clock.now();
  const rules = await readRules(store);
  const rows = await store.tables.batteries.findAll({
    where: { trayId },
    order: [['tag', 'ASC']],
    raw: true,
  });
  const [first] = rows;
  if (!first) throw notFound('That tray');
  const known = await batteriesById(
    store,
    rows.map((r) => r.id),
  );
  const model = known.get(first.id);
  const doc = begin(SIZES[rules.paper], MARGIN, 'Tray');
  const width = widthOf(doc);
  title(
    doc,
    `Tray ${first.tag} to ${rows.at(-1)?.tag ?? ''}`,
    `${rules.shopName}. ${rows.length} × ${model?.modelCode ?? ''}, ${model?.modelName ?? ''}, for ${first.owner}, date code ${first.dateCode}. Taken in ${formatStamp(first.takenInAt, rules)}. Printed ${formatStamp(now, rules)}.`,
  );
  const widths = [66, 110, 62, 62, 62, width - 362];
  row(doc, ['Tag', 'Status', 'At rest', 'Charge', 'Load', 'Next, or why'], widths);
  rule(doc);
  for (const battery of rows) {
    const wire = (await jobsOfBattery(store, battery.id)).at(-1);
    if (!wire) continue;
    const job = settle(
      { procedure: await procedureOf(store, wire.procedureId), plan: wire.plan, state: wire.state },
      now,
    );
    const { verdict, outcome, refusal, deviations } = job.state;
    const ready = context.plannedReady?.(wire.id) ?? readyAt(job, now, handsAt(rules));
    const next = outcome
      ? refusal
        ? refusalWords(job, refusal)
        : deviations.length > 0
          ? `${deviations.length} deviations`
          : 'no deviation'
      : (nextHand(job, now)?.title ?? '');
    row(
      doc,
      [
        battery.tag,
        outcome
          ? OUTCOME_WORDS[outcome]
          : ready === null
            ? 'with the lead'
            : `ready ${formatMoment(ready, now, rules)}`,
        verdict?.restV ? `${verdict.restV.toFixed(2)} V` : '–',
        verdict?.socPercent ? `${verdict.socPercent.toFixed(0)} %` : '–',
        verdict?.loadV ? `${verdict.loadV.toFixed(2)} V` : '–',
        next,
      ],
      widths,
    );
  }
  section(doc, 'Signed');
  doc.font('text').fontSize(10).fillColor(SOFT).text('Name, date: ______________________________');
  return finish(doc);
}

/** A label sheet of 3 × 8: 64 × 34 mm labels with 3 mm between columns, the usual office kind on A4. */
const LABEL = {
  across: 3,
  down: 8,
  width: 64 * MM,
  height: 33.9 * MM,
  left: 6 * MM,
  top: 12.9 * MM,
  gap: 3 * MM,
};

/** Date tags for many batteries on a label sheet. */
export async function tagSheetPdf(
  context: Context,
  tags: readonly string[],
  code: 'code128' | 'qr',
): Promise<Buffer> {
  const { store } = context;
  const rules = await readRules(store);
  const rows = await store.tables.batteries.findAll({
    where: { tag: [...new Set(tags)] },
    raw: true,
  });
  const missing = tags.find((tag) => !rows.some((r) => r.tag === tag));
  if (missing) throw notFound(`Battery ${missing}`);
  const known = await batteriesById(
    store,
    rows.map((r) => r.id),
  );
  const stock = await store.tables.stock.findAll({
    where: { batteryId: rows.map((r) => r.id) },
    raw: true,
  });
  const doc = begin(SIZES[rules.paper], 0, 'Date tags');
  for (const [i, tag] of [...new Set(tags)].entries()) {
    const place = i % (LABEL.across * LABEL.down);
    if (i > 0 && place === 0) doc.addPage();
    const x = LABEL.left + (place % LABEL.across) * (LABEL.width + LABEL.gap);
    const y = LABEL.top + Math.floor(place / LABEL.across) * LABEL.height;
    const row = rows.find((r) => r.tag === tag);
    const battery = row && known.get(row.id);
    if (!battery) continue;
    const charged = stock.find((s) => s.batteryId === battery.id)?.chargedAt;
    drawTag(doc, {
      x,
      y,
      tag,
      code,
      model: battery.modelCode,
      date:
        charged === undefined
          ? `in ${formatDateOf(battery.takenInAt, rules)}`
          : `charged ${formatDateOf(charged, rules)}`,
      owner: battery.owner,
    });
  }
  return finish(doc);
}

interface TagDrawing {
  x: number;
  y: number;
  tag: string;
  code: 'code128' | 'qr';
  model: string;
  date: string;
  owner: string;
}

function drawTag(doc: Document, { x, y, tag, code, model, date, owner }: TagDrawing): void {
  const pad = 8;
  const side = code === 'qr' ? 58 : 0;
  const width = LABEL.width - 2 * pad - side;
  doc
    .font('strong')
    .fontSize(17)
    .fillColor(INK)
    .text(tag, x + pad, y + 8, { lineBreak: false, structType: 'H2' });
  if (code === 'qr') squareCode(doc, tag, { x: x + LABEL.width - pad - 54, y: y + 10, width: 54 });
  else barcode(doc, tag, { x: x + pad, y: y + 30, width: LABEL.width - 2 * pad, height: 26 });
  const top = code === 'qr' ? y + 32 : y + 60;
  doc
    .font('label')
    .fontSize(10)
    .fillColor(INK)
    .text(`${model} · ${date}`, x + pad, top, { width, height: 12, ellipsis: true });
  doc
    .font('text')
    .fontSize(9)
    .fillColor(SOFT)
    .text(owner, x + pad, top + 13, { width, height: 11, ellipsis: true });
}
