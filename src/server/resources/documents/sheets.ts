import type { Transaction } from 'sequelize';
import type { HouseRules } from '../../../core/house/rules.ts';
import type { Job } from '../../../core/job/job.ts';
import { handoverSheet, sinceKept } from '../../../core/paper/sheet.ts';
import type { Sheet, SheetWords } from '../../../core/paper/sheetForm.ts';
import { sayAllIn } from '../../../core/quantities/shopUnits.ts';
import { signerName } from '../../../core/job/signers.ts';
import type { SheetWire } from '../../../contract/wire.ts';
import { parsed, readRules } from '../../context.ts';
import { peopleOf } from '../people/people.ts';
import type { Store } from '../../store/store.ts';

/** A sheet is kept as it was when its job closed: a later version of the rules, or of this program, changes no old verdict. */

/** How papers are written and kept: in SI, by the 24 h clock; they are said in the shop's style when they are shown. */
export const wordsOf = (
  rules: HouseRules,
  people: Awaited<ReturnType<typeof peopleOf>>,
): SheetWords => ({
  timeZone: rules.timeZone,
  temperatureUnit: 'C',
  sgReferenceC: rules.sgReferenceC,
  nameOf: (id) => signerName(id, people),
});

/** Keeps the sheet of a job that has just closed. */
export async function keepSheet(
  store: Store,
  jobId: string,
  job: Job,
  at: number,
  transaction: Transaction,
): Promise<void> {
  const words = wordsOf(await readRules(store, transaction), await peopleOf(store, transaction));
  await store.tables.sheets.upsert(
    { jobId, keptAt: at, body: handoverSheet(job, words) },
    { transaction },
  );
}

/** The sheet of a job: as it was kept, with what came after; or as it stands, where it is not closed, or was before sheets were kept. */
export async function sheetOf(store: Store, jobId: string, job: Job): Promise<SheetWire> {
  const rules = await readRules(store);
  const words = wordsOf(rules, await peopleOf(store));
  const over = job.state.status === 'closed' || job.state.status === 'refused';
  const kept = over ? await store.tables.sheets.findByPk(jobId, { raw: true }) : null;
  if (!kept) return sayAllIn({ sheet: handoverSheet(job, words), keptAt: null, since: [] }, rules);
  return sayAllIn(
    {
      sheet: parsed(kept.body) as Sheet,
      keptAt: kept.keptAt,
      since: sinceKept(job, kept.keptAt, words),
    },
    rules,
  );
}
