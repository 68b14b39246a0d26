import { wakeCurrents } from '../../diagnosis/wakeCurrents.ts';
import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { recoveryOf } from '../../job/job.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';
import type { ResultOf } from '../../job/stepResult.ts';
import { wakePair } from '../../recovery/evidence.ts';

/** Donor, leads and charger, before the clips go on. */
export const wake = defineStep({ kind: 'wake', inTray: 'each' });

export const wakeTakes: Takes<'wake'> = { wake: wakeIt };

function wakeIt({ job, step, command }: Asked<'wake', 'wake'>): JobEvent[] {
  const { model } = job.plan;
  const way = recoveryOf(job).routes.at(-1)?.wake;
  const result: ResultOf<'wake'> = {
    kind: 'wake',
    way: way ?? 'none',
    chargerA: command.chargerA,
    ...(command.charger ? { charger: command.charger } : {}),
  };
  if (way === 'parallel') {
    const { donorV, donorAh, leadM, leadMm2 } = command;
    if (
      donorV === undefined ||
      donorAh === undefined ||
      leadM === undefined ||
      leadMm2 === undefined
    )
      throw new Refused(
        'Say what the donor reads and holds, and how long and thick the leads are.',
        'invalid',
        'donorV',
      );
    const { chargerA } = command;
    const currents = wakeCurrents(wakePair(job, { donorV, donorAh, leadM, leadMm2, chargerA }));
    const [problem] = currents.problems;
    if (problem) throw new Refused(problem.sentence, 'forbidden', problem.of);
    result.donor = {
      voltageV: donorV,
      c20Ah: donorAh,
      leadM,
      leadMm2,
      inrushA: currents.inrushA,
      ...(command.donorTag ? { tag: command.donorTag } : {}),
    };
  } else if (command.chargerA > 0.1 * model.c20Ah + 1e-9)
    throw new Refused(
      `At most a tenth of C20, ${(0.1 * model.c20Ah).toFixed(1)} A: waking is not boosting.`,
      'invalid',
      'chargerA',
    );
  return [done(step, result)];
}
