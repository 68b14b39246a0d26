import { checkFilled } from '../amounts.ts';
import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { type Job, standingReadings, runsWith } from '../../job/job.ts';
import { figureOf } from '../../plan/jobPlan.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** An act of hands, with a temperature or an amount where it has one. */
export const doIt = defineStep({
  kind: 'do',
  usual: (_, step) => ({
    type: 'confirmDone',
    stepId: step.id,
    ...(step.temperature ? { temperatureC: 21 } : {}),
  }),
  takesFromLot: ({ state }, result) => {
    const lot = runsWith(state, 'acid').at(-1)?.result.lot;
    return result.amountMl !== undefined && lot !== undefined ? { lot, ml: result.amountMl } : null;
  },
});

export const doItTakes: Takes<'do'> = { confirmDone };

function confirmDone({ job, step, command }: Asked<'do', 'confirmDone'>): JobEvent[] {
  const { temperatureC, amountMl, reason } = command;
  const most = step.amount?.most ? figureOf(job.plan, step.amount.expected).value : Infinity;
  if ((amountMl ?? 0) > most)
    throw new Refused(
      `At most ${most.toFixed(0)} mL goes in. More drowns the mats.`,
      'forbidden',
      'amountMl',
    );
  if (step.amount?.weighed) checkWeighed(job, amountMl ?? 0);
  else if (step.amount && amountMl !== undefined)
    checkFilled(amountMl, figureOf(job.plan, step.amount.expected).value, command.sure);
  if (step.amount && amountMl === undefined)
    throw new Refused('Type how much went in.', 'invalid', 'amountMl');
  const told = {
    ...(temperatureC === undefined ? {} : { temperatureC }),
    ...(amountMl === undefined ? {} : { amountMl }),
  };
  const over = done(step, Object.keys(told).length > 0 ? { kind: 'do', ...told } : null);
  if (!step.temperature) return [over];
  if (temperatureC === undefined)
    throw new Refused('Read the temperature first.', 'invalid', 'temperatureC');
  const [low, high] = step.temperature.range;
  if (temperatureC >= low && temperatureC <= high) return [over];
  if (!reason)
    throw new Refused(
      `${step.temperature.outside} It reads ${temperatureC.toFixed(0)} °C: let it come right, or give a reason.`,
      'invalid',
      'reason',
    );
  return [
    {
      type: 'deviation',
      stepId: step.id,
      what: {
        kind: 'temperature',
        label: step.temperature.label,
        temperatureC,
        lowC: low,
        highC: high,
      },
      reason,
    },
    over,
  ];
}

/** A scale and drops on the lid may be off by this, g, and by this share of what went in. */
const SCALE_OFF_G = 10;
const SCALE_OFF_SHARE = 0.15;

/** What went in is what it has gained: weighed before this step, and again within it. */
function checkWeighed({ state }: Job, amountMl: number): void {
  const began = state.current?.startedAt ?? 0;
  const masses = standingReadings(state).filter((r) => r.values.massG !== undefined);
  const before = masses.findLast((r) => r.at <= began)?.values.massG ?? masses[0]?.values.massG;
  const after = masses.findLast((r) => r.at >= began);
  if (before === undefined || after?.values.massG === undefined || masses.length < 2)
    throw new Refused(
      'Weigh it before the first drop and again when it is closed: two readings of its mass, under “Take a reading in between”.',
      'invalid',
      'amountMl',
    );
  const gained = after.values.massG - before;
  if (Math.abs(gained - amountMl) > Math.max(SCALE_OFF_G, SCALE_OFF_SHARE * amountMl))
    throw new Refused(
      `It weighs ${gained.toFixed(0)} g more, ${amountMl.toFixed(0)} mL are said to have gone in. A gram is a millilitre: weigh it again, or correct the amount.`,
      'invalid',
      'amountMl',
    );
}
