import { forCells } from '../../batteries/chemistry.ts';
import { WAKE_BELOW_12V } from '../../diagnosis/wakeCurrents.ts';
import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** Volts and the feel of every cell after an hour beside the donor. */
export const wakeCheck = defineStep({ kind: 'wake-check', inTray: 'each' });

export const wakeCheckTakes: Takes<'wake-check'> = { checkWake };

/** Hot is a short. At 10.5 V it goes on alone; below, another hour, twice at most. */
function checkWake({ job, step, command }: Asked<'wake-check', 'checkWake'>): JobEvent[] {
  const { model } = job.plan;
  if (command.feel.length !== model.cells)
    throw new Refused(`Feel all ${model.cells} cells.`, 'invalid', 'feel');
  const hot = command.feel.flatMap((f, k) => (f === 'hot' ? [k + 1] : []));
  if (hot.length > 0)
    return [{ type: 'job.refused', stepId: step.id, why: { by: 'hot-cells', cells: hot } }];
  const awake = forCells(WAKE_BELOW_12V, model.cells);
  const result = { kind: 'wake-check', voltageV: command.voltageV, feel: command.feel } as const;
  if (command.voltageV >= awake) return [done(step, result)];
  const made =
    job.state.runs.filter(
      (r) => r.stepId === step.id && r.attempt === job.state.attempt && r.end === 'done',
    ).length + 1;
  if (made < step.most)
    return [{ type: 'pass.repeated', stepId: step.id, from: step.from, result }];
  return [
    done(step, result),
    {
      type: 'job.escalated',
      reason: `After ${made} h beside it, ${command.voltageV.toFixed(2)} V: under ${awake.toFixed(2)} V it does not carry on alone. Another way of waking, or the recycler.`,
    },
  ];
}
