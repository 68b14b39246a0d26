import { formatDuration, formatTemperature } from '../quantities/format.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';
import { type Job, recoveryOf } from '../job/job.ts';
import { ROUTES } from '../diagnosis/routes.ts';
import { OUTCOMES } from '../job/recoveryState.ts';
import { WAKES } from '../diagnosis/wakes.ts';
import { type CycleRow, cyclesOf } from '../recovery/cycles.ts';
import { ownerWords } from './ownerWords.ts';
import type { Sheet } from './sheetForm.ts';

/** Before and after, in the words of a sheet; null where the job recovers nothing. */
export function recoverySheet(
  job: Job,
  unit: TemperatureUnit,
): Pick<Sheet, 'reasons' | 'headline' | 'facts'> | null {
  const recovery = recoveryOf(job);
  const given = recovery.outcomes.at(-1);
  if (job.procedure.purpose !== 'recover') return null;
  const cycles = cyclesOf(job);
  const [first, last] = [cycles[0], cycles.at(-1)];
  if (!first || !last) return null;
  const change = (
    label: string,
    of: (row: CycleRow) => string | null,
  ): { label: string; value: string }[] => {
    const [before, after] = [of(first), of(last)];
    return before === null && after === null
      ? []
      : [
          {
            label,
            value:
              last === first
                ? (before ?? '–')
                : `${before ?? 'not measured'} before, ${after ?? 'not measured'} after`,
          },
        ];
  };
  const fixed = (value: number | null, digits: number, unit: string): string | null =>
    value === null ? null : `${value.toFixed(digits)}${unit}`;
  return {
    reasons: given
      ? [
          `${OUTCOMES[given.outcome].name}: ${OUTCOMES[given.outcome].plain}`,
          ...given.reasons,
          ...(given.reason ? [given.reason] : []),
          ...(ownerWords(job) ?? []),
        ]
      : [],
    headline: [
      {
        label: 'Capacity of rating',
        value: last.capacity ? `${(100 * last.capacity.health).toFixed(0)} %` : 'not tested',
      },
      {
        label: 'Lost in a week',
        value:
          last.weekLoss === null
            ? 'not held'
            : `${(100 * Math.max(0, last.weekLoss)).toFixed(0)} %`,
      },
      { label: 'At rest', value: fixed(last.voltageV, 2, ' V') ?? 'not measured' },
    ],
    facts: [
      ...change('Rest voltage', (r) => fixed(r.voltageV, 2, ' V')),
      ...change('SG spread of the cells', (r) => fixed(r.sgSpread, 3, '')),
      ...change('Inner resistance', (r) => fixed(r.resistanceMilliohm, 1, ' mΩ')),
      ...change('Resistance by load step', (r) => fixed(r.stepMilliohm, 1, ' mΩ')),
      ...change('CCA', (r) => fixed(r.ccaA, 0, ' A')),
      ...change('Capacity at C20', (r) => fixed(r.capacity?.c20.middle ?? null, 1, ' Ah')),
      ...change('Mass', (r) => fixed(r.massG, 0, ' g')),
      ...recovery.routes.map((r) => ({
        label: `Cycle ${r.attempt}`,
        value: `${ROUTES[r.route].name}${r.wake === 'none' ? '' : `, woken: ${WAKES[r.wake].name}`}`,
      })),
      ...recovery.tests.map((test, i) => ({
        label: recovery.tests.length > 1 ? `Capacity test ${i + 1}` : 'Capacity test',
        value: `${test.currentA.toFixed(1)} A for ${formatDuration(test.minutes * 60)} down to ${test.cutoffV.toFixed(2)} V, begun at ${formatTemperature(test.temperatureC, unit)}${test.rested ? '' : '; not begun from a rested full charge'}`,
      })),
      ...(given?.disposal
        ? [
            {
              label: 'To the recycler',
              value: `${given.disposal.core}; about ${given.disposal.acidL.toFixed(1)} L of acid in it, ${given.disposal.bicarbonateKg.toFixed(1)} kg of bicarbonate at hand`,
            },
          ]
        : []),
    ],
  };
}
