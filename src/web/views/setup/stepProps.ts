import type { ReactNode } from 'react';
import type { Problem } from '../../../contract/wire.ts';
import type { HouseRules } from '../../../core/house/rules.ts';

/** What every step of the set-up works with. */
export interface StepProps {
  rules: HouseRules;
  /** What was wrong with the last try. */
  problem: Problem | null;
  /**
   * Saves what this step asks and goes to the next.
   *
   * @param by who signs, where the step itself has just said so
   */
  onNext: (changed: Partial<HouseRules>, by?: string) => Promise<void>;
  /** The button that sends, with what stands beside it. */
  foot: ReactNode;
}
