import { MIX } from '../catalogue/steps.ts';
import type { JobEvent } from '../job/events.ts';
import type { Job } from '../job/job.ts';
import type { Step } from '../plan/procedure.ts';
import type { DrillCase } from './case.ts';
import type { Fact } from './facts.ts';
import type { World } from './world.ts';

/** A case as an event of its job finds it. */
interface Followed {
  readonly drillCase: DrillCase;
  readonly world: World;
  readonly job: Job;
  note(fact: Fact): void;
}

/** A load that pulled it so far under its cut-off was left on, V. */
const DEEP_V = 0.5;

/** What an event of the job does to the battery, and what of it is noted. @param step that was in hand */
export function follow(bench: Followed, event: JobEvent, step: Step | null): void {
  const { world } = bench;
  switch (event.type) {
    case 'charge.started':
    case 'charge.moved':
      return connect(bench, event);
    case 'charge.paused':
    case 'charge.halted':
      return world.disconnect();
    case 'charge.resumed':
    case 'charge.reconnected': {
      const { charge } = bench.job.state;
      if (charge) connect(bench, charge);
      return;
    }
    case 'discharge.started':
      return world.connectLoad(event.currentA, event.cutoffV);
    case 'discharge.dropped':
    case 'capacity.tested': {
      const { belowCutOffV } = world.harm;
      if (belowCutOffV > DEEP_V) bench.note({ kind: 'overdischarged', byV: belowCutOffV });
      return world.disconnect();
    }
    case 'topped-up':
      return world.water();
    case 'job.refused':
    case 'job.escalated':
    case 'job.closed':
      return world.disconnect();
    case 'deviation':
      return bench.note({ kind: 'deviation', what: event.what, reason: event.reason });
    case 'wait.cut': {
      const { remainingS, reason } = event;
      return bench.note({ kind: 'deviation', what: { kind: 'wait-cut', remainingS }, reason });
    }
    case 'step.skipped':
      return bench.note({
        kind: 'deviation',
        what: { kind: 'step-skipped' },
        reason: event.reason,
      });
    case 'reading.taken': {
      const { role, marks } = event.reading;
      if (['rest', 'hold'].includes(role) && marks.includes('early'))
        bench.note({ kind: 'read-early' });
      return;
    }
    case 'step.done':
      return stepDone(world, event, step);
    default:
      return;
  }
}

function stepDone(
  world: World,
  { result, stepId }: Extract<JobEvent, { type: 'step.done' }>,
  step: Step | null,
): void {
  if (result?.kind === 'charge' || result?.kind === 'wake-check') world.disconnect();
  else if (result?.kind === 'wake') world.wake(result.way, result.chargerA);
  else if (step?.kind === 'do' && step.segment === 'fill') world.fill();
  else if (step?.kind === 'ports' && step.answers.some((a) => a.added === 'water')) world.water();
  else if (step?.kind === 'do' && stepId === MIX.id) world.mix();
}

/** What a charge is set to; `charger` where one of the wall gives it. */
interface Connection {
  setA: number;
  setV: number;
  charger?: Parameters<World['connectCharger']>[0];
}

function connect({ drillCase, world }: Followed, { setA, setV, charger }: Connection): void {
  const known = charger && drillCase.chargers.find((c) => c.id === charger.id);
  if (charger && known) world.connectCharger(charger, known, setA, setV);
  else world.connectSupply(setA, setV);
}
