import { leadAcidKind } from '../batteries/kinds.ts';
import type { BatteryModel } from '../batteries/model.ts';
import {
  FAMILIES,
  PICTURE_KEYS,
  type PictureKey,
  PICTURES,
} from '../diagnosis/practice/families.ts';
import type { StoryKey } from '../diagnosis/stories.ts';
import { type Job, recoveryOf, standingReadings } from '../job/job.ts';
import { cyclesOf } from '../recovery/cycles.ts';
import { CHARGERS, told, usualWetMassG } from './cases/shop.ts';
import type { DrillCase, LookKind } from './case.ts';
import { newBattery } from './cases/newBattery.ts';
import { OPENS_H } from './hours.ts';
import { tellsACase } from './tellsACase.ts';
import { TRAPS, type TrapKey } from './traps.ts';
import { DEFENSIBLE, endsOf, truthOf } from './truth.ts';

/** What a lead says of a case of the shop's own; the simulation makes the battery of it. */
export interface OwnCaseFacts {
  purpose: 'commission' | 'recover';
  title: string;
  /** Its owner's words, and what is written down of them; of a new battery, how it comes in. */
  says: string;
  story: StoryKey;
  standingDays: number | null;
  ageYears: number | null;
  picture: PictureKey;
  /** What is not as it should be about a new battery. */
  trap: TrapKey;
  /** 0 mild, 1 as bad as they come. */
  badness: number;
  /** A look that finds something, where one does. */
  find: { what: LookKind; says: string } | null;
  /** The meter of the case shows so many times the voltage; 1 where it is right. */
  meterShows: number;
  /** Hour of the day at which it begins. */
  beginsH: number;
  /** Hour from which nobody is there until the shop opens; null where somebody may be there all night. */
  closesH: number | null;
  /** When it is promised, h after it begins; null for no promise. */
  promisedH: number | null;
  /** A battery that fails strands someone: sent out wrongly it is unsafe. */
  strands: boolean;
  /** What is to be taken from it. */
  teaches: string;
}

/** What a case says where it was written before these things could be said: a recovery in a shop that keeps no hours and promises nothing. */
export const SAID_LATER: Pick<
  OwnCaseFacts,
  'purpose' | 'trap' | 'beginsH' | 'closesH' | 'promisedH' | 'strands'
> = {
  purpose: 'recover',
  trap: 'none',
  beginsH: OPENS_H,
  closesH: null,
  promisedH: null,
  strands: false,
};

/** Looks that may find something at a battery that came in. */
export const FINDABLE: readonly LookKind[] = ['case', 'posts', 'frost', 'levels'];
/** Pictures that a case can be made of. */
export const OWN_PICTURES: readonly PictureKey[] = PICTURE_KEYS;

/** What a look finds at a picture that nobody could know otherwise. */
const FOUND_ANYWAY: Readonly<Partial<Record<PictureKey, { what: LookKind; says: string }>>> = {
  damaged: { what: 'case', says: 'A crack in the case, wet.' },
  uncovered: { what: 'levels', says: 'Plates bare in every cell.' },
};

/** A case made of what a lead has said of it. */
export const ownCase = (code: string, facts: OwnCaseFacts, model: BatteryModel): DrillCase =>
  facts.purpose === 'commission'
    ? ownNewBattery(code, facts, model)
    : ownRecovery(code, facts, model);

/** What a case says of the shop around it, whatever the battery. */
const shopOf = (facts: OwnCaseFacts): Partial<DrillCase> => ({
  ...(facts.meterShows === 1 ? {} : { meterShows: facts.meterShows }),
  beginsH: facts.beginsH,
  ...(facts.closesH === null ? {} : { closesH: facts.closesH }),
  ...(facts.promisedH === null ? {} : { promisedH: facts.promisedH }),
  ...(facts.strands ? { strands: true as const } : {}),
});

function ownNewBattery(code: string, facts: OwnCaseFacts, model: BatteryModel): DrillCase {
  const { title, says, teaches } = facts;
  const trap = TRAPS[facts.trap];
  const inOrder = newBattery({
    code,
    level: 0,
    title,
    about: says,
    model,
    right: [trap.right],
    teaches,
    ...shopOf(facts),
  });
  return { ...inOrder, ...trap.set(inOrder) };
}

function ownRecovery(code: string, facts: OwnCaseFacts, model: BatteryModel): DrillCase {
  const { ports } = leadAcidKind(model.kind);
  const wetMassG = usualWetMassG(model);
  const truth = truthOf(facts.picture, model, { even: () => facts.badness, normal: () => 0 });
  // What may never be charged is seen at a look, or told by the voltmeter.
  const find = facts.find ?? FOUND_ANYWAY[facts.picture] ?? null;
  const never = truth.never && find !== null;
  const right = never ? (['refused'] as const) : endsOf(truth, model, ports === 'serviceable');
  return {
    code,
    level: 0,
    title: facts.title,
    about: 'A case of this shop.',
    purpose: 'recover',
    model,
    forWhom: 'A customer, who waits',
    dateCode: '',
    story: {
      says: facts.says,
      told: told(facts.story, facts.standingDays, facts.ageYears),
    },
    finds: find ? { [find.what]: { good: false, says: find.says } } : {},
    truth,
    roomC: 20,
    chargers: [
      CHARGERS.supply,
      ...(model.nominalV === 12 ? [CHARGERS.four, CHARGERS.recovery] : [CHARGERS.one]),
    ],
    ...shopOf(facts),
    ...(wetMassG === undefined ? {} : { wetMassG }),
    right,
    defensible: DEFENSIBLE[right[0] ?? 'recycle'] ?? [],
    teaches: facts.teaches,
  };
}

/**
 * A finished job as a case, with its people, its customer and its dates left out: of a recovery what it was found to be, about as
 * bad as its test says; of a new battery what it was refused for. A lead looks it over and tries it before anybody gets it.
 *
 * @returns null where the job tells nothing a case could be made of
 */
export function factsOfJob(job: Job): OwnCaseFacts | null {
  if (!tellsACase(job)) return null;
  return job.procedure.purpose === 'commission' ? factsOfNew(job) : factsOfRecovery(job);
}

/** What a lead begins with who writes a case. */
export const BLANK_FACTS: Readonly<OwnCaseFacts> = {
  ...SAID_LATER,
  title: '',
  says: '',
  story: 'unknown',
  standingDays: null,
  ageYears: null,
  picture: 'flat',
  badness: 0.5,
  find: null,
  meterShows: 1,
  teaches: '',
};

function factsOfNew({ state }: Job): OwnCaseFacts {
  const why = state.refusal?.why;
  return {
    ...BLANK_FACTS,
    purpose: 'commission',
    title: 'From this bench',
    says: 'New, in its box.',
    trap: why?.by === 'check' && why.check === 'foil' ? 'foil' : 'none',
  };
}

function factsOfRecovery(job: Job): OwnCaseFacts | null {
  const recovery = recoveryOf(job);
  const last = recovery.outcomes.at(-1);
  const found = last?.found ?? null;
  const arrival = standingReadings(job.state, 'arrival').at(-1)?.values.voltageV;
  if (found === null) return null;
  const health = cyclesOf(job).findLast((c) => c.capacity !== null)?.capacity?.health ?? null;
  const picture = PICTURE_KEYS.find((p) => PICTURES[p] === found) ?? 'flat';
  return {
    title: 'From this bench',
    says: WORDS_OF_STORY[recovery.story?.story ?? 'unknown'],
    story: recovery.story?.story ?? 'unknown',
    standingDays: recovery.story?.standingDays ?? null,
    ageYears: recovery.story?.ageYears ?? null,
    picture: found === 'sulfated' && (arrival ?? 12) > 11 ? 'light' : picture,
    badness: health === null ? 0.5 : Math.min(0.95, Math.max(0.05, 1 - health)),
    find: null,
    meterShows: 1,
    ...SAID_LATER,
    teaches: FAMILIES[found].plain,
  };
}

const WORDS_OF_STORY: Readonly<Record<StoryKey, string>> = {
  'left-on': 'Something was left on.',
  parked: 'Nobody used it for a long time.',
  weak: 'It has been weak for a while.',
  'short-runs': 'It only runs for short ways.',
  shelf: 'It stood on the shelf.',
  boiled: 'It smelled of gas.',
  unknown: 'I know nothing of it.',
};
