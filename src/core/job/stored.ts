import { type Procedure, stepById, type StepKind } from '../plan/procedure.ts';
import type { JobEvent } from './events.ts';
import type { JobState } from './job.ts';
import type { StepResult } from './stepResult.ts';

/** A result as it was stored until schema 008: a bag of names that did not tell its kind. */
type Bag = Readonly<Record<string, unknown>>;

const number = (of: unknown): number | undefined => (typeof of === 'number' ? of : undefined);
const text = (of: unknown): string => (typeof of === 'string' ? of : '');
/** The named numbers that are there. */
const numbers = <N extends string>(bag: Bag, ...names: readonly N[]): { [name in N]?: number } =>
  Object.fromEntries(names.flatMap((name) => (number(bag[name]) === undefined ? [] : [[name, bag[name]]]))) as { [name in N]?: number };

/** How each kind of step stored its result in a bag. Kinds that are not here keep theirs elsewhere in the job, or have none. */
const FROM_BAG: { readonly [K in StepKind]?: (bag: Bag) => StepResult | null } = {
  checks: ({ answers }) => (answers ? { kind: 'checks', answers: answers as Record<string, boolean> } : null),
  pack: ({ code, lot }) => ({ kind: 'pack', code: text(code), lot: text(lot) }),
  acid: (bag) => ({
    kind: 'acid',
    lot: text(bag['lot']),
    specificGravity: number(bag['specificGravity']) ?? NaN,
    sg25: number(bag['sg25']) ?? NaN,
    temperatureC: number(bag['temperatureC']) ?? NaN,
    ...numbers(bag, 'batteryC'),
  }),
  do: (bag) => (Object.keys(bag).length > 0 ? { kind: 'do', ...numbers(bag, 'temperatureC', 'amountMl') } : null),
  ports: ({ ports }) => (Array.isArray(ports) ? { kind: 'ports', ports: ports as string[] } : null),
  wait: ({ remainingS }) => (number(remainingS) === undefined ? null : { kind: 'wait', remainingS: remainingS as number }),
  charge: (bag) =>
    number(bag['ampereHours']) === undefined
      ? null
      : {
          kind: 'charge',
          agrees: bag['agrees'] === true,
          ampereHours: bag['ampereHours'] as number,
          chargeStartedAt: number(bag['chargeStartedAt']) ?? 0,
          hours: number(bag['hours']) ?? 0,
          ended: typeof bag['ended'] === 'string' ? bag['ended'] : null,
          live: typeof bag['chargeId'] === 'string' ? { chargeId: bag['chargeId'], planName: text(bag['planName']), sentences: bag['sentences'] as string[] } : null,
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
    number(voltageV) === undefined ? null : { kind: 'wake-check', voltageV: voltageV as number, feel: feel as Extract<StepResult, { kind: 'wake-check' }>['feel'] },
  rinse: ({ sediment, drainedMl }) => ({
    kind: 'rinse',
    sediment: sediment as Extract<StepResult, { kind: 'rinse' }>['sediment'],
    drainedMl: number(drainedMl) ?? 0,
  }),
  capacity: ({ method }) => ({ kind: 'capacity', by: method === 'instrument' ? 'instrument' : 'hand' }),
};

/** A result as it is told today, whichever version stored it. */
export function resultNow(kind: StepKind, stored: unknown): StepResult | null {
  if (typeof stored !== 'object' || stored === null) return null;
  return 'kind' in stored ? (stored as StepResult) : (FROM_BAG[kind]?.(stored as Bag) ?? null);
}

/** An event of the log as it is told today. */
export function eventNow(event: JobEvent, procedure: Procedure): JobEvent {
  if (event.type !== 'step.done' && event.type !== 'pass.repeated') return event;
  const result = resultNow(stepById(procedure, event.stepId).kind, event.result);
  return event.type === 'step.done' ? { ...event, result } : { ...event, result };
}

/** A state that was kept by an earlier version as it is told today. */
export function stateNow(state: JobState, procedure: Procedure): JobState {
  return { ...state, runs: state.runs.map((run) => ({ ...run, result: resultNow(stepById(procedure, run.stepId).kind, run.result) })) };
}
