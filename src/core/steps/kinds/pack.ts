import { Refused } from '../../job/commands.ts';
import type { JobEvent } from '../../job/events.ts';
import { knownLot, lotSaid, mayUse } from '../lots.ts';
import { type Asked, defineStep, done, type Takes } from '../step.ts';

/** The pack of tubes in hand is the one that was made for this model; another is refused, the battery is not. */
export const pack = defineStep({
  kind: 'pack',
  usual: ({ plan }, step) => ({
    type: 'matchPack',
    stepId: step.id,
    code: plan.model.electrolyteCode ?? '',
    lot: '',
  }),
  remark: ({ state }, _, run) =>
    state.refusedPacks
      .filter((p) => p.at >= run.startedAt && p.at <= (run.endedAt ?? Infinity))
      .map((p) => `refused ${p.code}`),
  takesFromLot: ({ plan }, result) => ({ lot: result.lot, ml: plan.model.electrolyteMl ?? 0 }),
});

export const packTakes: Takes<'pack'> = { matchPack };

function matchPack({ job, step, command, context }: Asked<'pack', 'matchPack'>): JobEvent[] {
  mayUse(context.lot, 'pack');
  if (context.lot && context.lot.packCode !== job.plan.model.electrolyteCode)
    throw new Refused(
      `Lot ${context.lot.code} holds ${context.lot.packCode ?? ''} packs, says the wet room.`,
      'forbidden',
      'lot',
    );
  const code = command.code.trim();
  if (code !== job.plan.model.electrolyteCode) return [{ type: 'pack.refused', code }];
  knownLot(command, context);
  return [done(step, { kind: 'pack', code, lot: lotSaid(command.lot, context) })];
}
