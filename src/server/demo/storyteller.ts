import type { JobCommand } from '../../core/procedures/commands.ts';
import type { LeadDecision } from '../../core/procedures/events.ts';
import type { Job } from '../../core/procedures/job.ts';
import { stepById } from '../../core/procedures/procedure.ts';

/**
 * One line of a demo story, `-60 read 13.58 1.20 24`: minutes from the demo's start, a verb, its words.
 * Stories are played through the same commands as a person's taps, so the demo's past is as true as its present.
 */
export interface StoryLine {
  minute: number;
  verb: string;
  words: string[];
}

export function readStoryLine(text: string): StoryLine[] {
  const [minute = '', verb = '', ...words] = text.split(' ');
  const line = { minute: Number(minute), verb, words };
  if (Number.isNaN(line.minute)) throw new Error(`A story line begins with minutes: “${text}”.`);
  if (verb !== 'ok') return [line];
  // `ok 3` does the next three steps the usual way, a minute apart.
  return Array.from({ length: Number(words[0] ?? 1) }, (_, i) => ({ minute: line.minute + i, verb, words: [] }));
}

/** The command a story line stands for in a settled job. */
export function commandOf({ verb, words }: StoryLine, job: Job): JobCommand {
  const stepId = job.state.current?.stepId ?? '';
  const n = words.map(Number);
  const text = words.join(' ');
  switch (verb) {
    case 'ok':
      return usual(job);
    case 'pack':
      return { type: 'matchPack', stepId, code: text, lot: 'L-2602' };
    case 'acid':
      return { type: 'matchAcid', stepId, lot: words[0] ?? '', specificGravity: n[1] as number, temperatureC: n[2] as number, batteryC: n[3] as number };
    case 'amount':
      return { type: 'confirmDone', stepId, amountMl: n[0] as number };
    case 'ports':
      return { type: 'answerPorts', stepId, ports: words };
    case 'arrival':
      return { type: 'read', role: 'arrival', values: { voltageV: n[0] as number } };
    case 'cells':
      return { type: 'read', role: 'cells', values: { temperatureC: n[0] as number }, cells: n.slice(1).map((specificGravity) => ({ specificGravity })) };
    case 'analyser':
      return { type: 'read', role: 'analyser', values: { ccaA: n[0] as number }, standard: job.plan.model.ccaStandard ?? 'EN' };
    case 'water':
      return { type: 'topUp', liquid: 'water', lot: words[0] ?? '', ml: n[1] as number, cells: n.slice(2) };
    case 'foil-broken':
      return { type: 'answerChecks', stepId, answers: { foil: false } };
    case 'charge':
      return { type: 'startCharge', stepId, place: n[0] as number, setA: job.plan.figures.chargeA.value, setV: job.plan.figures.ceilingV.value };
    case 'read':
      return { type: 'read', role: 'charge', values: { voltageV: n[0] as number, currentA: n[1] as number, temperatureC: n[2] as number } };
    case 'correct': {
      const last = job.state.readings.at(-1);
      return { type: 'correct', readingId: last?.id ?? '', values: { voltageV: n[0] as number, currentA: n[1] as number, temperatureC: n[2] as number } };
    }
    case 'full':
      return { type: 'endCharge', stepId };
    case 'full-anyway':
      return { type: 'endCharge', stepId, reason: text };
    case 'rest':
      return { type: 'read', role: 'rest', values: { voltageV: n[0] as number } };
    case 'load':
      return { type: 'read', role: 'load', values: { voltageV: n[0] as number, temperatureC: n[1] as number, ...(n.length > 2 ? { beforeV: n[2] as number, afterV: n[3] as number } : {}) } };
    case 'verdict':
      return { type: 'giveVerdict', stepId };
    case 'handover':
      return { type: 'handOver', stepId, destination: words[0] === 'shelf' ? 'shelf' : 'customer' };
    case 'cut':
      return { type: 'cutWait', stepId, reason: text };
    case 'note':
      return { type: 'note', text };
    case 'lead':
      return { type: 'leadDecide', decision: words[0] as LeadDecision, reason: words.slice(1).join(' ') };
    default:
      throw new Error(`No story verb “${verb}”.`);
  }
}

/** What a careful technician answers when nothing is wrong. */
function usual(job: Job): JobCommand {
  const stepId = job.state.current?.stepId ?? '';
  const step = stepById(job.procedure, stepId);
  switch (step.kind) {
    case 'acknowledge':
      return { type: 'acknowledge', stepId };
    case 'checks':
      return { type: 'answerChecks', stepId, answers: Object.fromEntries(step.checks.map((c) => [c.id, true])) };
    case 'pack':
      return { type: 'matchPack', stepId, code: job.plan.model.electrolyteCode ?? '', lot: 'L-2602' };
    case 'do':
      return { type: 'confirmDone', stepId, ...(step.temperature ? { temperatureC: 21 } : {}) };
    case 'ports':
      return { type: 'answerPorts', stepId, ports: Array.from({ length: job.plan.model.cells }, () => step.answers[0]?.id ?? '') };
    default:
      throw new Error(`“${step.title}” has no usual answer; tell it with its own verb.`);
  }
}

