import { FAMILIES } from '../../../core/diagnosis/practice/families.ts';
import type { RouteForecast } from '../../../core/job/recoveryState.ts';
import { oddsWords } from '../../../core/quantities/chance.ts';
import { saysSomething } from '../../../core/dayplan/pins.ts';
import { sayIn, type Units } from '../../../core/quantities/shopUnits.ts';
import { chargerInUseWords } from '../../../core/chargers/fitWords.ts';
import { deviationWords } from '../../../core/job/deviationWords.ts';
import type { LoggedEvent } from '../../../contract/wire.ts';
import { type Job } from '../../../core/job/job.ts';
import { stepById } from '../../../core/plan/procedure.ts';
import { OUTCOME_WORDS } from '../../../core/job/outcome.ts';
import { readingText } from '../../../core/paper/readingWords.ts';
import { ROUTES } from '../../../core/diagnosis/routes.ts';
import { STORIES } from '../../../core/diagnosis/stories.ts';
import { OUTCOMES } from '../../../core/job/recoveryState.ts';
import { WAKES } from '../../../core/diagnosis/wakes.ts';
import { CLAIM_CAUSES, CLAIM_STATUS_WORDS } from '../../../core/claims/claim.ts';
import { cellWords, fillText } from '../../../core/plan/words.ts';
import { formatDuration, formatTemperature } from '../../../core/quantities/format.ts';
import { stageEndWords } from '../../../core/charging/stageEnd.ts';
import { whyLine } from '../../../core/job/why.ts';
import { refusalWords } from '../../../core/job/refusalWords.ts';

/** One logged event as a sentence. */
export function eventWords({ event }: LoggedEvent, job: Job | undefined, units: Units): string {
  return sayIn(keptWords(event, job, units.temperatureUnit), units);
}

function keptWords(event: LoggedEvent['event'], job: Job | undefined, unit: 'C' | 'F'): string {
  const step = (id: string) => (job ? fillText(stepById(job.procedure, id).title, job.plan) : id);
  switch (event.type) {
    case 'battery.taken-in':
      return `Taken in as ${event.tag}, model ${event.modelCode}`;
    case 'step.done':
      return `Done: ${step(event.stepId)}`;
    case 'step.skipped':
      return `Skipped: ${step(event.stepId)}. ${event.reason}`;
    case 'step.reopened':
      return `Opened again: ${step(event.stepId)}. ${event.reason}`;
    case 'wait.cut':
      return `${deviationWords({ kind: 'wait-cut', remainingS: event.remainingS }, unit)}: ${step(event.stepId)}. ${event.reason}`;
    case 'deviation':
      return `Deviation at ${step(event.stepId)}: ${deviationWords(event.what, unit)}. ${event.reason}`;
    case 'pass.repeated':
      return `Another pass after: ${step(event.stepId)}`;
    case 'topped-up':
      return `${event.liquid === 'acid' ? 'Acid' : 'Distilled water'} added to ${cellWords(event.cells)}${event.ml ? `, ${event.ml.toFixed(0)} mL` : ''}`;
    case 'shelf.read':
      return `${event.supersedes ? 'Corrected on the shelf' : 'Read on the shelf'}: ${event.voltageV.toFixed(2)} V`;
    case 'shelf.as-found':
      return 'On the shelf when this record was updated';
    case 'shelf.left':
      return 'Off the shelf: its job ended elsewhere';
    case 'shelf.put-back':
      return 'Back on the shelf’s list, as it stood';
    case 'dayplan.pinned':
      return saysSomething(event.pin)
        ? 'Set by hand in the day plan'
        : 'Left to the day plan again';
    case 'service.asked':
      return 'Its owner was asked in for its service';
    case 'battery.placed':
      return event.place === null ? 'Its place was taken off the record' : `Put at ${event.place}`;
    case 'shelf.picked':
      return `Taken off the shelf for ${event.owner}${event.reason ? `. ${event.reason}` : ''}`;
    case 'battery.imported':
      return `Imported from a file as ${event.tag}, model ${event.modelCode}`;
    case 'log.imported':
      return `Log imported: ${event.name}`;
    case 'note.written':
      return event.picture
        ? `Picture added${event.text ? `: ${event.text}` : ''}`
        : `Note: ${event.text}`;
    case 'note.taken-back':
      return `${event.picture ? 'Picture' : 'Note'} taken back. ${event.why}`;
    case 'claim.opened':
      return `Claim ${event.number} opened: ${CLAIM_CAUSES[event.claim.cause]}`;
    case 'claim.moved':
      return `Claim ${event.number}: ${CLAIM_STATUS_WORDS[event.status]}${event.text ? `. ${event.text}` : ''}`;
    case 'claim.changed':
      return `Claim ${event.number} changed`;
    case 'pack.refused':
      return `Pack ${event.code} refused`;
    case 'job.refused':
      return `Refused: ${job ? refusalWords(job, event) : ''}`;
    case 'refusal.taken-back':
      return `The refusal was a mistake and was put right. ${event.reason}`;
    case 'charge.started':
      return `Current on at place ${event.place}${event.live ? `, by “${event.live.planName}”` : ''}: ${event.setA.toFixed(2)} A to ${event.setV.toFixed(2)} V`;
    case 'charge.planned':
      return `Charge plan chosen: ${event.plan.name}`;
    case 'charge.stage':
      return `Stage ${event.stage + 1} is over: ${stageEndWords(event.end)}.`;
    case 'charge.paused':
      return `Charge paused. ${whyLine(event.why, unit)}`;
    case 'charge.halted':
      return `Charge stopped. ${whyLine(event.why, unit)}`;
    case 'charge.warned':
      return `Warning. ${whyLine(event.why, unit)}`;
    case 'charge.resumed':
      return `Current on again at ${formatTemperature(event.temperatureC, unit)}`;
    case 'charge.reconnected':
      return 'Taken off the charger and connected again';
    case 'charge.moved':
      return `Moved${event.charger ? ` to ${chargerInUseWords(event.charger)}` : ''}: ${event.setA.toFixed(2)} A to ${event.setV.toFixed(2)} V`;
    case 'charge.found-off':
      return 'Found without current, and connected again';
    case 'reading.taken':
      return `${event.reading.supersedes ? 'Correction' : 'Reading'}: ${readingText(event.reading, unit)}`;
    case 'size.told':
      return `Its size is known: ${event.c20Ah} Ah (C20)`;
    case 'job.paused':
      return `Paused. ${event.reason}`;
    case 'job.resumed':
      return 'Resumed';
    case 'note.added':
      return `Note: ${event.text}`;
    case 'job.escalated':
      return `Handed to the lead. ${event.reason}`;
    case 'lead.decided':
      return `Lead decided: ${event.decision}. ${event.reason}`;
    case 'verdict.given':
      return `Verdict: ${event.verdict.outcome}. ${event.verdict.reasons.join(' ')}`;
    case 'story.told':
      return `What happened: ${STORIES[event.story.story].name}`;
    case 'route.chosen':
      return `Route chosen: ${ROUTES[event.route.route].name}${event.route.wake === 'none' ? '' : `, woken: ${WAKES[event.route.wake].name}`}${predictedWords(event.route.forecast)}`;
    case 'discharge.started':
      return `Discharge begun: ${event.currentA.toFixed(1)} A to ${event.cutoffV.toFixed(2)} V`;
    case 'discharge.dropped':
      return `Discharge broken off. ${event.reason}`;
    case 'capacity.tested':
      return `Capacity test: ${event.test.currentA.toFixed(1)} A for ${event.test.minutes.toFixed(0)} min`;
    case 'forecast.made': {
      const { afterHours, capacity } = event.forecast;
      return `Forecast after ${afterHours.toFixed(0)} h on charge: it will hold ${(100 * capacity.low).toFixed(0)}–${(100 * capacity.high).toFixed(0)} %`;
    }
    case 'outcome.given':
      return `Verdict: ${OUTCOMES[event.outcome.outcome].name}. ${event.outcome.reasons.join(' ')}${event.outcome.found ? ` It was ${FAMILIES[event.outcome.found].is}.` : ''}`;
    case 'clock.set':
      return `The machine’s clock was wrong: times of this job are told ${formatDuration(Math.abs(event.byMs) / 1000)} ${event.byMs > 0 ? 'later' : 'earlier'} since`;
    case 'job.closed':
      return `Closed: ${OUTCOME_WORDS[event.outcome]}${event.destination ? ` (${event.destination})` : ''}`;
  }
}

/** What it was taken for then, and on how many of the shop's own batteries that stood. */
function predictedWords(forecast: RouteForecast | null): string {
  const [first, second] = forecast?.families ?? [];
  if (!first) return '';
  const also =
    second && second.chance > 0.1
      ? `, else ${FAMILIES[second.family].is}, ${oddsWords(second.chance)}`
      : '';
  const known = forecast?.learnt?.of ?? 0;
  return `. Predicted: ${FAMILIES[first.family].is}, ${oddsWords(first.chance)}${also}${known > 0 ? `; ${known} of the shop’s batteries known then` : ''}`;
}
