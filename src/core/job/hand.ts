import type { Moment } from '../quantities/moment.ts';

/** The next thing a job wants from a person. */
export interface Hand {
  stepId: string | null;
  title: string;
  /** The verb on the button. */
  act: string;
  /** When hands are needed; null while nobody can do anything. */
  dueAt: Moment | null;
  /** `stop` outranks everything; `lead` only a lead can answer. */
  kind: 'act' | 'read' | 'wait' | 'stop' | 'lead' | 'paused';
}

export type Urgency = 'overdue' | 'now' | 'soon' | 'waiting';

/** Hands that are this late count as overdue, s. */
export const GRACE_S = 30 * 60;
/** A discharge by hand is looked at this often, s. */
export const LOOK_EVERY_S = 15 * 60;
/** Within this it is soon, s. */
export const SOON_S = 2 * 3600;
