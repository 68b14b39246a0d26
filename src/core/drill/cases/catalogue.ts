import type { DrillCase } from '../case.ts';
import { generatedCase } from '../generate.ts';
import { COMMISSIONING } from './commissioning.ts';
import { RECOVERING } from './recovering.ts';
import { RECOVERING_HARD } from './recoveringHard.ts';

/** Every written case, the easier ones first. */
export const CASES: readonly DrillCase[] = [
  ...COMMISSIONING,
  ...RECOVERING,
  ...RECOVERING_HARD,
].toSorted((a, b) => a.level - b.level);

/** A case by its code, written or drawn; undefined where there is none. */
export const caseByCode = (code: string): DrillCase | undefined =>
  CASES.find((c) => c.code === code.trim().toUpperCase()) ?? generatedCase(code);
