import type { ClaimFacts, ClaimMove, ClaimStatus } from '../core/claims/claim.ts';

/** What the server answers of notes, pictures, claims and holds. */

/** A picture as it is kept: its name follows from its content. Pixels, bytes. */
export interface PictureWire {
  name: string;
  width: number;
  height: number;
  bytes: number;
}

/** A line of text, a picture, or both, on a battery or on something of it. */
export interface NoteWire {
  id: string;
  jobId: string | null;
  stepId: string | null;
  readingId: string | null;
  claimId: string | null;
  at: number;
  by: string;
  text: string;
  picture: PictureWire | null;
  /** It stays on record; nobody is shown it any more but by asking. */
  takenBack: { at: number; by: string; why: string } | null;
}

/** How much is kept in pictures, and how much may be, bytes. */
export interface PictureRoom {
  count: number;
  bytes: number;
  roomBytes: number;
}

/** What is asked of whoever sold a new battery that may not be commissioned. */
export interface ClaimWire {
  id: string;
  /** Counted from 1 in this shop. */
  number: number;
  tag: string;
  modelCode: string;
  /** The job that led to it; null where there was none. */
  jobId: string | null;
  openedAt: number;
  by: string;
  status: ClaimStatus;
  body: ClaimFacts;
  history: ClaimMove[];
}

/** A model or a lot that is not to be used until somebody has looked into it. */
export interface HoldWire {
  id: string;
  what: 'model' | 'lot';
  code: string;
  why: string;
  at: number;
  by: string;
  liftedAt: number | null;
  liftedBy: string | null;
  liftedWhy: string | null;
}
