import type { BatteryModel } from '../batteries/model.ts';
import type { ShopCharger } from '../chargers/charger.ts';
import type { FamilyKey } from '../diagnosis/practice/families.ts';
import type { Outcome } from '../job/outcome.ts';
import type { ToldStory } from '../job/recoveryState.ts';
import type { Condition } from '../simulation/battery.ts';

/**
 * A case to practise on: a battery whose truth nobody sees, how it comes in, and the shop around it. All of it is data; the same
 * case is the same battery on every machine.
 */

/** What a person looks at without an instrument. */
export const LOOKS = [
  'label',
  'case',
  'posts',
  'frost',
  'foil',
  'vent',
  'tubes',
  'strip',
  'levels',
  'packs',
  'customer',
] as const;
export type LookKind = (typeof LOOKS)[number];

/** What a look finds, where it is not as it should be. */
export interface Found {
  /** As it should be? */
  good: boolean;
  says: string;
}

/** How a case can be ended: as the job ends, or handed to the lead. */
export type Decision = Outcome | 'with-lead';

/** What the battery truly is. */
export interface Truth {
  /** As it comes; a dry-charged one as it is when it has been filled. °C is that of the battery on arrival. */
  condition: Condition;
  /** Hours it stood so before it came: a short has been at work. */
  stoodH?: number;
  /** It is dry, and its plates take charge and acid once it has been filled. */
  dry?: true;
  /** Tubes that stand still until they are tapped, from 0. */
  stillTubes?: readonly number[];
  /** Current may never be put through it. */
  never?: true;
  family: FamilyKey;
}

/** Which marks a case is about; a case teaches one thing. */
export const MARK_KEYS = ['safety', 'procedure', 'economy', 'judgement', 'record'] as const;
export type MarkKey = (typeof MARK_KEYS)[number];

export interface DrillCase {
  /** Short, so that two people can be compared on the same one. */
  code: string;
  /** Place in the ladder, from 1. */
  level: number;
  title: string;
  /** Why it is worth doing, without telling what it is. */
  about: string;
  purpose: 'commission' | 'recover';
  model: BatteryModel;
  forWhom: string;
  dateCode: string;
  /** Its owner's own words, and what is written down of them. */
  story: { says: string; told: ToldStory };
  /** What looks find; what is not named is as it should be. */
  finds: Partial<Record<LookKind, Found>>;
  truth: Truth;
  roomC: number;
  chargers: readonly ShopCharger[];
  /** Electrolyte packs on the shelf. */
  packs?: readonly { code: string; lot: string }[];
  /** Bulk acid: its strength at 25 °C and how warm it is. */
  acid?: { sg25: number; temperatureC: number; lot: string };
  /** A meter that is off: it shows so many times the voltage. */
  meterShows?: number;
  /** What it weighs new and filled, g, where its label says so. */
  wetMassG?: number;
  /** Ends that are right, and ends that can be defended. */
  right: readonly Decision[];
  defensible?: readonly Decision[];
  /** Hour of the day at which it begins, 0–24; at eight, when the shop opens, where nothing is said. */
  beginsH?: number;
  /** From this hour of the day until the shop opens nobody is there; somebody may be there at any hour where nothing is said. */
  closesH?: number;
  /** When it was promised, h after the beginning. */
  promisedH?: number;
  /** It goes where a failure strands someone. */
  strands?: true;
  /** What a good technician takes from it. */
  teaches: string;
}
