import { type Procedure, stepById, type StepKind, type StepRole } from '../plan/procedure.ts';
import type { JobEvent } from './events.ts';
import type { JobState } from './job.ts';
import type { StepResult } from './stepResult.ts';
import { trip, type Trip } from '../charging/trips.ts';
import type { ChargeState } from './chargeState.ts';
import type { Why } from './why.ts';
import type { StageEnd } from '../charging/stageEnd.ts';
import type { Refusal } from './refusal.ts';

/** A result as it was stored until schema 008: a bag of names that did not tell its kind. */
type Bag = Readonly<Record<string, unknown>>;

const number = (of: unknown): number | undefined => (typeof of === 'number' ? of : undefined);
const text = (of: unknown): string => (typeof of === 'string' ? of : '');
/** The named numbers that are there. */
const numbers = <N extends string>(bag: Bag, ...names: readonly N[]): { [name in N]?: number } =>
  Object.fromEntries(
    names.flatMap((name) => (number(bag[name]) === undefined ? [] : [[name, bag[name]]])),
  ) as { [name in N]?: number };

/** How each kind of step stored its result in a bag. Kinds that are not here keep theirs elsewhere in the job, or have none. */
const FROM_BAG: { readonly [K in StepKind]?: (bag: Bag) => StepResult | null } = {
  checks: ({ answers }) =>
    answers ? { kind: 'checks', answers: answers as Record<string, boolean> } : null,
  pack: ({ code, lot }) => ({ kind: 'pack', code: text(code), lot: text(lot) }),
  acid: (bag) => ({
    kind: 'acid',
    lot: text(bag['lot']),
    specificGravity: number(bag['specificGravity']) ?? NaN,
    sg25: number(bag['sg25']) ?? NaN,
    temperatureC: number(bag['temperatureC']) ?? NaN,
    ...numbers(bag, 'batteryC'),
  }),
  do: (bag) =>
    Object.keys(bag).length > 0
      ? { kind: 'do', ...numbers(bag, 'temperatureC', 'amountMl') }
      : null,
  ports: ({ ports }) => (Array.isArray(ports) ? { kind: 'ports', ports: ports as string[] } : null),
  wait: ({ remainingS }) =>
    number(remainingS) === undefined ? null : { kind: 'wait', remainingS: remainingS as number },
  charge: (bag) =>
    number(bag['ampereHours']) === undefined
      ? null
      : {
          kind: 'charge',
          agrees: bag['agrees'] === true,
          ampereHours: bag['ampereHours'] as number,
          chargeStartedAt: number(bag['chargeStartedAt']) ?? 0,
          hours: number(bag['hours']) ?? 0,
          ended: typeof bag['ended'] === 'string' ? stageEndNow(bag['ended']) : null,
          live:
            typeof bag['chargeId'] === 'string'
              ? {
                  chargeId: bag['chargeId'],
                  planName: text(bag['planName']),
                  sentences: bag['sentences'] as string[],
                }
              : null,
        },
  wake: (bag) => ({
    kind: 'wake',
    way: text(bag['way']) as Extract<StepResult, { kind: 'wake' }>['way'],
    chargerA: number(bag['chargerA']) ?? 0,
    ...(number(bag['donorV']) === undefined
      ? {}
      : {
          donor: {
            voltageV: bag['donorV'] as number,
            c20Ah: number(bag['donorAh']) ?? 0,
            leadM: number(bag['leadM']) ?? 0,
            leadMm2: number(bag['leadMm2']) ?? 0,
            inrushA: number(bag['inrushA']) ?? 0,
            ...(bag['donorTag'] ? { tag: text(bag['donorTag']) } : {}),
          },
        }),
  }),
  'wake-check': ({ voltageV, feel }) =>
    number(voltageV) === undefined
      ? null
      : {
          kind: 'wake-check',
          voltageV: voltageV as number,
          feel: feel as Extract<StepResult, { kind: 'wake-check' }>['feel'],
        },
  rinse: ({ sediment, drainedMl }) => ({
    kind: 'rinse',
    sediment: sediment as Extract<StepResult, { kind: 'rinse' }>['sediment'],
    drainedMl: number(drainedMl) ?? 0,
  }),
  capacity: ({ method }) => ({
    kind: 'capacity',
    by: method === 'instrument' ? 'instrument' : 'hand',
  }),
};

/** A result as it is told today, whichever version stored it. */
function resultNow(kind: StepKind, stored: unknown): StepResult | null {
  if (typeof stored !== 'object' || stored === null) return null;
  return 'kind' in stored ? (stored as StepResult) : (FROM_BAG[kind]?.(stored as Bag) ?? null);
}

/** Why a stage ended: until schema 008 a clause. */
export function stageEndNow(stored: unknown): StageEnd {
  if (typeof stored !== 'string') return stored as StageEnd;
  return stored.startsWith(BY_HAND)
    ? { by: 'hand', reason: stored.slice(BY_HAND.length) }
    : { by: 'said', text: stored };
}
const BY_HAND = 'by hand: ';

/** What stopped a live charge: until schema 008 with its words. */
export function tripNow(stored: unknown): Trip | null {
  if (typeof stored !== 'object' || stored === null || 'figures' in stored)
    return stored as Trip | null;
  const { title, sentence } = stored as Bag;
  return trip('said', { title: text(title), text: text(sentence) });
}

/** Why a charge stopped: until schema 008 a sentence, by whomever. */
const whySaid = (reason: string): Why => ({
  by: 'guard',
  trip: trip('said', { title: '', text: reason }),
});

type Stored<E extends JobEvent['type']> = Extract<JobEvent, { type: E }> & {
  reason?: string;
  said?: string;
};

/** Events that an earlier version told in other words. */
export const RETOLD: readonly JobEvent['type'][] = [
  'step.done',
  'pass.repeated',
  'charge.stage',
  'charge.paused',
  'charge.halted',
  'charge.warned',
  'job.refused',
];

/** Steps had no roles until schema 008: they were known by their ids. */
const ROLES: Readonly<Record<string, StepRole>> = {
  charge: 'main-charge',
  refill: 'refill',
  'empty-first': 'empty-first',
  rest: 'rest-before-verdict',
  hold: 'hold',
};

/** A procedure that was kept by an earlier version, with the roles of its steps. */
export function procedureNow(procedure: Procedure): Procedure {
  if (procedure.steps.some((s) => s.role)) return procedure;
  return {
    ...procedure,
    steps: procedure.steps.map((s) => (ROLES[s.id] ? { ...s, role: ROLES[s.id] as StepRole } : s)),
  };
}

/** An event of the log as it is told today. */
export function eventNow(event: JobEvent, procedure: Procedure): JobEvent {
  switch (event.type) {
    case 'step.done':
    case 'pass.repeated':
      return { ...event, result: resultNow(stepById(procedure, event.stepId).kind, event.result) };
    case 'charge.stage': {
      const { said } = event as Stored<'charge.stage'>;
      return said === undefined
        ? event
        : {
            type: 'charge.stage',
            stage: stageOf(said),
            end: { by: 'said', text: said.replace(STAGE_SAID, '').replace(/\.$/, '') },
          };
    }
    case 'charge.paused':
    case 'charge.halted':
    case 'charge.warned': {
      const { reason, ...rest } = event as Stored<typeof event.type>;
      return reason === undefined ? event : ({ ...rest, why: whySaid(reason) } as JobEvent);
    }
    case 'job.refused': {
      const { reason, stepId } = event as Stored<'job.refused'>;
      return reason === undefined
        ? event
        : { type: 'job.refused', stepId, why: { by: 'said', text: reason } };
    }
    default:
      return event;
  }
}

/** `Stage 2 is over: the volts had not risen for 2 h.` as it was written. */
const STAGE_SAID = /^Stage (\d+) (?:is over: |ended )/;
const stageOf = (said: string): number => Number(STAGE_SAID.exec(said)?.[1] ?? 1) - 1;

/** A state that was kept by an earlier version as it is told today. */
export function stateNow(state: JobState, procedure: Procedure): JobState {
  const charge = state.charge as (ChargeState & { reason?: string | null }) | null;
  const refusal = state.refusal as (Refusal & { reason?: string }) | null;
  return {
    ...state,
    runs: state.runs.map((run) => ({
      ...run,
      result: resultNow(stepById(procedure, run.stepId).kind, run.result),
    })),
    charge:
      charge &&
      withoutReason(charge, (reason) => ({ why: reason === null ? null : whySaid(reason) })),
    refusal:
      refusal &&
      withoutReason(refusal, (reason) => ({ why: { by: 'said', text: reason ?? '' } as const })),
  };
}

/** Puts what `why` makes of it in the place of a reason that was text. */
function withoutReason<T extends object, W>(
  of: T & { reason?: string | null },
  why: (reason: string | null) => W,
): T {
  const { reason, ...rest } = of;
  return reason === undefined ? of : ({ ...rest, ...why(reason) } as unknown as T);
}
