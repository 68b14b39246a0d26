import type { LeadAcidKind } from '../batteries/kinds.ts';
import type { Decision, DrillCase } from './case.ts';
import { oneOf } from './cases/shop.ts';

/** What is not as it should be about a new battery, or about what it is commissioned with. */
interface Trap {
  name: string;
  /** Of which kinds it can happen to. */
  fits: (kind: LeadAcidKind) => boolean;
  right: Decision;
  /** What it changes about a case in which everything is in order. */
  set: (drillCase: DrillCase) => Partial<DrillCase>;
}

const withTubes = ({ fill }: LeadAcidKind): boolean => fill === 'tubes';
const fromDrum = ({ fill }: LeadAcidKind): boolean => fill === 'bulk';
const dry = ({ fill }: LeadAcidKind): boolean => fill !== null;
const wet = ({ fill }: LeadAcidKind): boolean => fill === null;

/** Acid that is so much stronger is another one; SG. */
const OTHER_ACID_SG = 0.045;
const COLD_C = 8;
const WARM_C = 39;
/** A joint of so much resistance passes no load test, Ω of a battery of one Ah. */
const BAD_JOINT_OHM = 1.1;

export const TRAPS = {
  none: { name: 'Nothing: all is in order', fits: () => true, right: 'passed', set: () => ({}) },
  foil: {
    name: 'The foil is torn over a port',
    fits: withTubes,
    right: 'refused',
    set: ({ model, truth }) => ({
      finds: { foil: { good: false, says: 'The foil is torn over port 2.' } },
      truth: {
        ...truth,
        condition: {
          ...truth.condition,
          charge: 0.55,
          cells: oneOf(model.cells, 1, { active: 0.6 }, {}),
        },
        family: 'never',
      },
    }),
  },
  tube: {
    name: 'A tube stands still',
    fits: withTubes,
    right: 'passed',
    set: ({ truth }) => ({ truth: { ...truth, stillTubes: [1] } }),
  },
  strip: {
    name: 'The cap strip is pressed down too early',
    fits: withTubes,
    right: 'with-lead',
    set: () => ({
      finds: { strip: { good: false, says: 'The cap strip is pressed down along its length.' } },
    }),
  },
  pack: {
    name: 'Only a pack of another code is there',
    fits: withTubes,
    right: 'with-lead',
    set: ({ packs = [] }) => ({
      packs: packs.map((pack) => ({ ...pack, code: anotherCode(pack.code) })),
    }),
  },
  acid: {
    name: 'The drum holds stronger acid',
    fits: fromDrum,
    right: 'with-lead',
    set: ({ acid }) => (acid ? { acid: { ...acid, sg25: acid.sg25 + OTHER_ACID_SG } } : {}),
  },
  'cold-acid': {
    name: 'The acid is cold',
    fits: fromDrum,
    right: 'passed',
    set: ({ acid }) => (acid ? { acid: { ...acid, temperatureC: COLD_C } } : {}),
  },
  warm: {
    name: 'The battery is warm',
    fits: dry,
    right: 'passed',
    set: ({ truth }) => ({
      truth: { ...truth, condition: { ...truth.condition, temperatureC: WARM_C } },
    }),
  },
  'half-charged': {
    name: 'It has stood too long in the warehouse',
    fits: wet,
    right: 'passed',
    set: ({ truth }) => ({
      truth: { ...truth, condition: { ...truth.condition, charge: 0.45 }, family: 'flat' },
    }),
  },
  joint: {
    name: 'A joint inside is bad: it fails twice',
    fits: wet,
    right: 'with-lead',
    set: ({ model, truth }) => ({
      truth: {
        ...truth,
        condition: {
          ...truth.condition,
          cells: oneOf(model.cells, 1, { jointOhm: BAD_JOINT_OHM / model.c20Ah }, {}),
        },
        family: 'bad-cell',
      },
    }),
  },
} as const satisfies Record<string, Trap>;

export type TrapKey = keyof typeof TRAPS;
export const TRAP_KEYS = Object.keys(TRAPS) as TrapKey[];
/** What can be wrong with a new battery of this kind. */
export const trapsOf = (kind: LeadAcidKind): TrapKey[] =>
  TRAP_KEYS.filter((key) => TRAPS[key].fits(kind));

/** A code that differs in its number: that of a neighbour on the shelf. */
const anotherCode = (code: string): string =>
  /\d/.test(code) ? code.replace(/\d+(?!.*\d)/, (n) => String(Number(n) + 3)) : `${code}-2`;
