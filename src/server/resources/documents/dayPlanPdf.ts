import { chanceWords } from '../../../core/quantities/chance.ts';
import { personLines } from '../../../core/dayplan/personLines.ts';
import { leavings, leavingWords, nextClosing } from '../../../core/dayplan/planWords.ts';
import type { ToldPlan } from '../../../core/dayplan/told.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import {
  formatClock,
  formatDay,
  formatMomentShort,
  formatStamp,
} from '../../../core/quantities/format.ts';
import { sayIn } from '../../../core/quantities/shopUnits.ts';
import { begin, finish, INK, MARGIN, row, rule, section, SIZES, SOFT, widthOf } from './page.ts';

/**
 * The day on paper: who does what and when until the shop closes, what is promised, and what has to be seen to before leaving.
 *
 * @param personId of one person alone; null for everybody
 */
export function dayPlanPdf(
  plan: ToldPlan,
  rules: HouseRules,
  now: number,
  personId: string | null,
): Promise<Buffer> {
  const doc = begin(SIZES[rules.paper], MARGIN, 'Day plan');
  const width = widthOf(doc);
  const closing = nextClosing(plan) ?? plan.horizon;
  const moment = (minute: number): number => plan.from + minute * 60_000;
  const plain = (text: string): void => {
    doc.font('text').fontSize(11).fillColor(SOFT).text(text, MARGIN);
  };
  doc
    .font('strong')
    .fontSize(22)
    .fillColor(INK)
    .text(`Day plan, ${formatDay(moment(0), rules)}`, MARGIN, MARGIN, { structType: 'H1' });
  plain(
    `${rules.shopName}, until ${formatClock(moment(closing), rules)}. Printed ${formatStamp(now, rules)}.`,
  );
  rule(doc);
  const lines = personLines(plan).filter((l) => l.from < closing);
  for (const person of plan.people.filter((p) => personId === null || p.id === personId)) {
    section(doc, person.name);
    const own = lines.filter((l) => l.personId === person.id);
    if (own.length === 0) plain('Nothing planned.');
    for (const line of own)
      row(
        doc,
        [
          formatClock(moment(line.from), rules),
          line.works.map((w) => w.tag).join(', '),
          sayIn(line.what, rules),
          '____',
        ],
        [52, 150, width - 236, 34],
      );
  }
  const promised = plan.works
    .filter((w) => w.promisedAt !== null && w.promisedAt > 0)
    .toSorted((a, b) => (a.promisedAt ?? 0) - (b.promisedAt ?? 0));
  section(doc, 'Promises');
  if (promised.length === 0) plain('Nothing is promised.');
  for (const work of promised)
    row(
      doc,
      [
        formatMomentShort(moment(work.promisedAt ?? 0), plan.from, rules),
        work.tag,
        work.whose,
        work.kept === null ? '' : chanceWords(work.kept),
      ],
      [72, 72, width - 234, 90],
    );
  section(doc, 'Before you leave');
  const left = leavings(plan);
  if (left.length === 0) plain('Nothing is on a charger then.');
  for (const line of left)
    row(doc, [line.work.tag, leavingWords(plan, line, rules)], [72, width - 72]);
  return finish(doc);
}
