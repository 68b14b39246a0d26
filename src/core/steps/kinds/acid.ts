import { correctSg } from '../../electrolyte/concentration.ts';
import { FILL_RANGE_C, SG_OFF, SG_OTHER_ACID } from '../../electrolyte/acidLines.ts';
import { Refused } from '../../job/commands.ts';
import type { DeviationWhat } from '../../job/deviation.ts';
import { deviationWords } from '../../job/deviationWords.ts';
import type { JobEvent } from '../../job/events.ts';
import { knownLot, lotSaid, mayUse } from '../lots.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** Bulk acid, corrected to 25 °C and judged against what the plan wants. */
export const acid = defineStep({ kind: 'acid' });

export const acidTakes: Takes<'acid'> = { matchAcid };

function matchAcid({ job, step, command, context }: Asked<'acid', 'matchAcid'>): JobEvent[] {
  mayUse(context.lot, 'acid');
  knownLot(command, context);
  const wanted = job.plan.figures.fillSg.value;
  const sg25 = correctSg(command.specificGravity, command.temperatureC);
  const off = sg25 - wanted;
  const acid: DeviationWhat = {
    kind: 'acid',
    sg25,
    readSg: command.specificGravity,
    readC: command.temperatureC,
    wantedSg: wanted,
  };
  if (Math.abs(off) > SG_OTHER_ACID)
    throw new Refused(
      `${deviationWords(acid, 'C')}. This is another acid: it does not go in, whatever the reason.`,
      'forbidden',
      'specificGravity',
    );
  const deviations: DeviationWhat[] = [];
  if (Math.abs(off) > SG_OFF + 1e-9) deviations.push(acid);
  const [lowC, highC] = FILL_RANGE_C;
  for (const [label, celsius] of [
    ['Acid', command.temperatureC],
    ['Battery', command.batteryC],
  ] as const)
    if (celsius !== undefined && (celsius < lowC || celsius > highC))
      deviations.push({ kind: 'temperature', label, temperatureC: celsius, lowC, highC });
  if (deviations.length > 0 && !command.reason)
    throw new Refused(
      `${deviations.map((d) => deviationWords(d, 'C')).join('. ')}. Put it right, or give a reason.`,
      'invalid',
      'reason',
    );
  const { lot, specificGravity, temperatureC, batteryC } = command;
  return [
    ...deviations.map((what): JobEvent => ({
      type: 'deviation',
      stepId: step.id,
      what,
      reason: command.reason as string,
    })),
    done(step, {
      kind: 'acid',
      lot: lotSaid(lot, context),
      specificGravity,
      sg25,
      temperatureC,
      ...(batteryC === undefined ? {} : { batteryC }),
    }),
  ];
}
