import type { Clash } from '../../../core/house/mergeRules.ts';
import { type QuestionKey, SCHOOLS } from '../../../core/house/schools.ts';
import {
  formatDate,
  formatTimeOfDay,
  MONTHS,
  type WallStyle,
} from '../../../core/quantities/format.ts';
import { useRules } from '../../line/queries.ts';
import { DAYS, NUMBERS, SCALES, STAKES } from './ruleFields.ts';

/** A rule's name on this page, by its path. */
function ruleName(path: string): string {
  const [group, key = ''] = path.split('.');
  if (group === 'schools') return SCHOOLS[key as QuestionKey].question;
  const listed = [
    ...NUMBERS,
    ...STAKES.map((s) => ({ ...s, field: `stakes.${s.field}` })),
    ...SCALES.map((s) => ({ ...s, field: `sets.${s.field}` })),
  ];
  return listed.find((l) => l.field === path)?.label ?? OTHER_NAMES[path] ?? path;
}
const OTHER_NAMES: Readonly<Record<string, string>> = {
  shopName: 'Name, for the sheet',
  timeZone: 'Time zone',
  clock: 'Clock',
  dateOrder: 'Dates',
  temperatureUnit: 'Temperatures in',
  volumeUnit: 'Volumes in',
  sgReferenceC: 'SG printed at',
  paper: 'Paper',
  instruments: 'Instruments',
  closedOn: 'Closed on',
  personHours: 'Hours of people',
  absences: 'Absences',
  serviceMonths: 'Months of service',
  'hours.days': 'Days',
  'hours.from': 'Open from',
  'hours.to': 'Open until',
  'stakes.currency': 'Money in',
};

function ruleText(path: string, value: unknown, wall: WallStyle): string {
  const [group, key = ''] = path.split('.');
  if (group === 'schools')
    return SCHOOLS[key as QuestionKey].schools.find((s) => s.id === value)?.name ?? String(value);
  if (path === 'instruments' && Array.isArray(value))
    return (value as { name: string }[]).map((i) => i.name).join(', ') || 'none';
  if (path === 'closedOn' && Array.isArray(value))
    return (value as string[]).map((day) => formatDate(day, wall)).join(', ') || 'none';
  if (path === 'serviceMonths' && Array.isArray(value))
    return (value as number[]).map((m) => MONTHS[m - 1]).join(', ') || 'none';
  if ((path === 'personHours' || path === 'absences') && Array.isArray(value))
    return `${value.length} kept`;
  if (path === 'hours.days' && Array.isArray(value))
    return DAYS.filter((_, i) => value[i] === true).join(' ') || 'none';
  return path.startsWith('hours.') ? formatTimeOfDay(Number(value), wall) : String(value);
}

/** Both texts of what two people set at once. */
export function Clashes({
  clashes,
  onChoose,
}: {
  clashes: readonly Clash[];
  onChoose: (clash: Clash, value: unknown) => void;
}) {
  const wall = useRules();
  return (
    <div role="alert" className="w-full rounded-md border-l-8 border-ochre bg-ochre-pale px-4 py-2">
      <p className="text-lg">
        Somebody else has changed these meanwhile. Choose before you keep yours.
      </p>
      <ul>
        {clashes.map((clash) => (
          <li key={clash.path} className="flex flex-wrap items-center gap-3 py-1">
            <span className="min-w-40 font-label text-lg font-semibold">
              {ruleName(clash.path)}
            </span>
            <button
              type="button"
              className="act-quiet"
              onClick={() => onChoose(clash, clash.theirs)}
            >
              Theirs: {ruleText(clash.path, clash.theirs, wall)}
            </button>
            <button type="button" className="act-quiet" onClick={() => onChoose(clash, clash.mine)}>
              Yours: {ruleText(clash.path, clash.mine, wall)}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
