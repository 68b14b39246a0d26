import { refusesToStart } from '../../core/charging/liveGuards.ts';
import type { InstrumentSetting } from '../../core/house/instruments.ts';
import { readRules, type Context } from '../context.ts';
import { HttpProblem } from '../http/problem.ts';
import type { FittedPlan } from '../../core/charging/fitPlan.ts';
import type { Channel, ChannelReading } from '../instruments/channel.ts';
import { tripText } from '../../core/charging/tripWords.ts';
import type { Why } from '../../core/job/why.ts';
import { recordInJob } from '../resources/jobs/jobs.ts';
/** Looks at the clips with everything off; says no, on the record, where current must not flow. */
export async function checkClips(
  context: Context,
  jobId: string,
  place: number,
  channel: Channel,
  charger: InstrumentSetting,
  plan: FittedPlan,
): Promise<ChannelReading> {
  const no = async (why: Why, message: string): Promise<never> => {
    await recordInJob(context, jobId, context.clock.now(), () => [{ type: 'charge.warned', why }]);
    throw refused(message);
  };
  const instrumentSaid = (said: string): Promise<never> =>
    no({ by: 'instrument', place, said }, said);
  let measured: ChannelReading;
  try {
    const missing = await channel.prepare({ pulses: plan.stages.some((s) => s.do === 'pulse') });
    if (missing[0])
      return await instrumentSaid(
        `${missing.join(' ')} A charge nobody watches needs that; charge by hand here.`,
      );
    measured = await channel.measure();
  } catch (error) {
    if (error instanceof HttpProblem) throw error;
    return instrumentSaid((error as Error).message);
  }
  const refusal = refusesToStart(measured, plan.battery, charger);
  if (!refusal) return measured;
  const { temperatureUnit } = await readRules(context.store);
  return no({ by: 'guard', trip: refusal, place }, tripText(refusal, temperatureUnit));
}

/** No, in words to act on. */
export const refused = (message: string): HttpProblem =>
  new HttpProblem(422, { code: 'forbidden', message, fields: {} });
