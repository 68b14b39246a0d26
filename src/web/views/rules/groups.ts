import type { HouseRules } from '../../../core/house/rules.ts';
import { type QuestionKey, SCHOOLS } from '../../../core/house/schools.ts';
import { NUMBERS, SCALES, STAKES } from './ruleFields.ts';

export type GroupKey =
  | 'filling'
  | 'judging'
  | 'recovery'
  | 'shelf'
  | 'shop'
  | 'hours'
  | 'money'
  | 'sets'
  | 'instruments'
  | 'people'
  | 'experience'
  | 'backups';

/** A page of the house rules, with an address of its own. */
export interface Group {
  key: GroupKey;
  name: string;
  /** Questions on which practitioners differ, in the order of the work. */
  questions: readonly QuestionKey[];
  /** What else stands there, as it is looked for. */
  holds: readonly string[];
  /** Which of the rules it edits, beside its questions. */
  fields: readonly (keyof HouseRules)[];
}

export const GROUPS: readonly Group[] = [
  {
    key: 'filling',
    name: 'Filling and charging',
    questions: [
      'tubeFillStand',
      'bulkFillStand',
      'tubeHelp',
      'fillMark',
      'firstCharge',
      'capStrip',
    ],
    holds: [],
    fields: [],
  },
  {
    key: 'judging',
    name: 'Resting and passing',
    questions: ['restNew', 'passLine'],
    holds: [],
    fields: [],
  },
  {
    key: 'recovery',
    name: 'Recovery',
    questions: ['tooFlat', 'wake', 'desulfate', 'stubborn', 'additive', 'openAgm', 'restRecovered'],
    holds: [],
    fields: [],
  },
  { key: 'shelf', name: 'The shelf', questions: ['storageRecharge'], holds: [], fields: [] },
  {
    key: 'shop',
    name: 'The shop',
    questions: [],
    holds: [
      'Name, for the sheet',
      'Time zone',
      'Clock: 24 h or am and pm',
      'Dates: day or month first',
      'Temperatures in °C or °F',
      'Volumes and weights in mL, g or fl oz, lb',
      'SG printed at',
      'Paper',
      ...NUMBERS.map((n) => n.label),
    ],
    fields: [
      'shopName',
      'timeZone',
      'clock',
      'dateOrder',
      'temperatureUnit',
      'volumeUnit',
      'sgReferenceC',
      'paper',
      ...NUMBERS.map((n) => n.field),
    ],
  },
  {
    key: 'hours',
    name: 'Hours and absences',
    questions: [],
    holds: [
      'Opening hours and days',
      'Closed days, holidays',
      'Hours of a person, breaks, absences',
      'Months of service',
    ],
    fields: ['hours', 'closedOn', 'personHours', 'absences', 'serviceMonths'],
  },
  {
    key: 'money',
    name: 'What time is worth',
    questions: [],
    holds: ['Money in', ...STAKES.map((s) => s.label)],
    fields: ['stakes'],
  },
  {
    key: 'sets',
    name: 'Matched sets',
    questions: [],
    holds: ['How alike a set must be', ...SCALES.map((s) => s.label)],
    fields: ['sets'],
  },
  {
    key: 'instruments',
    name: 'Instruments',
    questions: [],
    holds: ['Chargers, supplies, loads and meters on the network: address, port, places'],
    fields: ['instruments'],
  },
  {
    key: 'people',
    name: 'People and calendar',
    questions: [],
    holds: ['People, leads and PINs', 'Calendar feed'],
    fields: [],
  },
  {
    key: 'experience',
    name: 'Results of forecasts',
    questions: [],
    holds: ['How routes have done, and how forecasts held', 'What the diagnosis has learnt here'],
    fields: [],
  },
  {
    key: 'backups',
    name: 'Backups',
    questions: [],
    holds: ['Copies of the data, and putting one back'],
    fields: [],
  },
];

export const groupOf = (key: string | undefined): Group =>
  GROUPS.find((g) => g.key === key) ?? (GROUPS[0] as Group);

/** Does a draft of the rules change anything in a group? */
export const changedIn = (
  { questions, fields }: Group,
  before: HouseRules,
  after: HouseRules,
): boolean =>
  questions.some((q) => before.schools[q] !== after.schools[q]) ||
  fields.some((f) => JSON.stringify(before[f]) !== JSON.stringify(after[f]));

/** The group in which a field of the rules stands that an answer found wrong: `rules.hours.to` stands in the shop. */
export function groupOfFault(path: string): GroupKey | null {
  const [, field = '', question = ''] = path.split('.');
  const found = GROUPS.find((g) =>
    field === 'schools'
      ? g.questions.some((q) => q === question)
      : g.fields.some((f) => f === field),
  );
  return found?.key ?? null;
}

export interface FoundRule {
  group: Group;
  /** The question it is; null for anything else in the group. */
  question: QuestionKey | null;
  title: string;
}

/** Rules that hold every word that is typed: in the question, in what can be chosen, in a field's name, in the group's. */
export function findRules(typed: string): FoundRule[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const holds = (...texts: string[]): boolean => {
    const text = texts.join(' ').toLowerCase();
    return words.every((word) => text.includes(word));
  };
  return GROUPS.flatMap((group): FoundRule[] => [
    ...group.questions
      .filter((q) => {
        const { question, schools } = SCHOOLS[q];
        return holds(group.name, question, ...schools.flatMap((s) => [s.name, s.plain]));
      })
      .map((question) => ({ group, question, title: SCHOOLS[question].question })),
    ...group.holds
      .filter((text) => holds(group.name, text))
      .map((title) => ({ group, question: null, title })),
  ]);
}
