import type { AnswerClock } from '../../../contract/asks.ts';
import { type SteadyClock, WALL_SLACK_MS, type WallWatch } from '../../clock.ts';
import { type Context, once, logEvent } from '../../context.ts';
import { conflict, HttpProblem } from '../../http/problem.ts';
import { openJobIds } from '../jobs/openJobs.ts';
import { recordInJob } from '../jobs/jobs.ts';
import { datedAhead, redateAhead } from './datedAhead.ts';

/** Dates that move by less than this are those of the day's work; more is a lead's to say. ms */
const DAY_MS = 24 * 3_600_000;

/**
 * A person says why bench time and the machine's clock have parted:
 * `passed` – the time did pass, the machine slept: dates follow the machine's clock, and waits have run on;
 * `put-right` – the machine's clock was wrong and is right now: dates follow it, and what is waited for keeps what was left;
 * `wrong` – the machine's clock is wrong now: the bench keeps its own time.
 *
 * @param redate told by how much the dates of charges under way move, ms
 */
export async function answerClock(
  context: Context,
  clock: SteadyClock,
  wall: WallWatch,
  body: AnswerClock,
  redate: (byMs: number) => void,
): Promise<void> {
  const { store, changes } = context;
  const asked = wall.standing();
  const aheadMs = asked?.aheadMs ?? 0;
  const from = clock.now();
  let first = false;
  await once(context, body, async ({ by, log }) => {
    if (!asked || Math.abs(aheadMs - body.aheadMs) > WALL_SLACK_MS)
      throw conflict('The clocks stand otherwise by now. Look again.', {
        aheadMs: 'Not any more.',
      });
    const ahead =
      body.answer === 'put-right' && aheadMs < -DAY_MS
        ? await datedAhead(store, from + aheadMs)
        : null;
    if (ahead && by.role !== 'lead' && ahead.jobs + ahead.batteries + ahead.shelf > 0)
      throw new HttpProblem(403, {
        code: 'forbidden',
        message:
          'Entries are dated later than that, and would be dated anew. Only a lead may do that.',
        fields: { by: 'Only a lead.' },
      });
    const data = { type: 'clock.answered', answer: body.answer, aheadMs, ...(ahead ?? {}) };
    await log(data);
    first = true;
    return { ok: true };
  });
  if (!first) return;
  if (body.answer === 'wrong') wall.keepBench();
  else {
    if (body.answer === 'put-right') {
      redate(aheadMs);
      const open = await openJobIds(store);
      for (const jobId of open)
        await recordInJob(
          context,
          jobId,
          from,
          () => [{ type: 'clock.set', byMs: aheadMs }],
          body.by,
        );
      if (aheadMs < 0) await redateAhead(context, from + aheadMs, aheadMs, body.by, open);
    }
    clock.move(aheadMs);
    wall.look();
    // Dated by the new clock, and the first entry that is: from here on the latest moment is looked for.
    const data = { type: `clock.${body.answer}`, byMs: aheadMs };
    await store.write((transaction) =>
      logEvent(
        context.store,
        { at: clock.now(), by: body.by, commandId: body.commandId },
        data,
        transaction,
      ),
    );
  }
  changes.announce({ topic: 'clock' });
  changes.announce({ topic: 'bench' });
}
