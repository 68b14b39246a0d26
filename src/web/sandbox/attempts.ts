import { createStore, entries, get, set, type UseStore } from 'idb-keyval';
import type { OwnCaseWire } from '../../contract/drillWire.ts';
import type { Shop } from '../../contract/wire.ts';
import type { DrillAct } from '../../core/drill/acts.ts';
import { caseByCode } from '../../core/drill/cases/catalogue.ts';
import type { Decision, DrillCase, MarkKey } from '../../core/drill/case.ts';
import { ownCase } from '../../core/drill/ownCase.ts';
import { newId } from '../line/newId.ts';

/** Somebody's go at a case: who, when, and every act. It is kept on this device and nowhere among the records of the shop. */
export interface Attempt {
  id: string;
  code: string;
  personId: string;
  /** By the clock of this device, ms. */
  startedAt: number;
  endedAt: number | null;
  acts: DrillAct[];
  /** How it was marked; null while it goes on. */
  result: AttemptResult | null;
  /** Of a case of the shop's own: as it was when it was begun. */
  own?: OwnCaseWire;
  /** It was shared with the lead. */
  shared?: true;
}

export interface AttemptResult {
  handsMin: number;
  hours: number;
  decision: Decision | null;
  passed: boolean;
  points: Record<MarkKey, number>;
  passes: Record<MarkKey, boolean>;
}

const shops = (): UseStore => (openShops ??= createStore('cork-ember-drill-shop', 'shop'));
let openShops: UseStore | undefined;
/** The shop as it was last seen: how it writes things, and who works there. A case is opened without its server. */
export const keepShop = (shop: Shop): Promise<void> => set('shop', shop, shops());
export const knownShop = (): Promise<Shop | undefined> => get('shop', shops());

/** Cases of the shop's own, as they were last seen; a go at one keeps what it was. */
export const keepOwnCases = (cases: readonly OwnCaseWire[]): Promise<void> =>
  set('own-cases', cases, shops());
export const keptOwnCases = async (): Promise<OwnCaseWire[]> =>
  (await get('own-cases', shops())) ?? [];

/** The case of a go: written, drawn, or the shop's own as it was when it was begun. */
export const caseOfAttempt = ({
  code,
  own: kept,
}: Pick<Attempt, 'code' | 'own'>): DrillCase | undefined =>
  kept ? ownCase(kept.code, kept.facts, kept.model) : caseByCode(code);

const store = (): UseStore => (openStore ??= createStore('cork-ember-drill', 'attempts'));
let openStore: UseStore | undefined;

export const keepAttempt = (attempt: Attempt): Promise<void> => set(attempt.id, attempt, store());
export const readAttempt = (id: string): Promise<Attempt | undefined> => get(id, store());

/** Ends a go at a case, or leaves it as ended as it was. */
export async function endAttempt(attempt: Attempt): Promise<void> {
  attempt.endedAt ??= Date.now();
  await keepAttempt(attempt);
}

/** A new go at a case, kept before its pages open. */
export async function beginAttempt(code: string, personId: string): Promise<Attempt> {
  const ofShop = (await keptOwnCases()).find((c) => c.code === code);
  const attempt: Attempt = {
    id: newId(),
    code,
    personId,
    startedAt: Date.now(),
    endedAt: null,
    acts: [],
    result: null,
    ...(ofShop ? { own: ofShop } : {}),
  };
  await keepAttempt(attempt);
  return attempt;
}

/** Every go of this device, oldest first. */
export async function allAttempts(): Promise<Attempt[]> {
  const kept = await entries<string, Attempt>(store());
  return kept.map(([, attempt]) => attempt).toSorted((a, b) => a.startedAt - b.startedAt);
}
