import { chargerFaultWords } from '../chargers/fitWords.ts';
import { ROUTES } from '../diagnosis/routes.ts';
import { formatTemperature } from '../quantities/format.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';
import type { DeviationWhat } from './deviation.ts';
import { cellWords } from '../plan/words.ts';

/**
 * A deviation in words, a phrase that begins a line: `Charged at 2.0 A instead of 1.2 A`.
 *
 * @param what text where an earlier version kept it as such
 */
export function deviationWords(what: DeviationWhat | string, unit: TemperatureUnit): string {
  if (typeof what === 'string') return what;
  switch (what.kind) {
    case 'step-skipped':
      return 'Step skipped';
    case 'step-reopened':
      return 'Step reopened';
    case 'wait-cut':
      return `Wait ended ${Math.ceil(what.remainingS / 60)} min early`;
    case 'temperature':
      return `${what.label} at ${formatTemperature(what.temperatureC, unit)}, outside ${formatTemperature(what.lowC, unit)} to ${formatTemperature(what.highC, unit)}`;
    case 'acid':
      return acidWords(what, unit);
    case 'ports':
      return `${what.answer} in ${cellWords(what.cells)}`;
    case 'still-topped-up':
      return `Still topped up in pass ${what.pass}: ${cellWords(what.cells)}`;
    case 'ceiling':
      return `Ceiling of ${what.setV.toFixed(2)} V instead of ${what.plannedV.toFixed(2)} V`;
    case 'current':
      return `Charged at ${what.setA.toFixed(1)} A instead of ${what.plannedA.toFixed(1)} A`;
    case 'charger':
      return `Charged on ${what.name}. ${what.faults.map(chargerFaultWords).join(' ')}`;
    case 'found-off':
      return `Found without current, for about ${what.hours.toFixed(1)} h`;
    case 'ended-early':
      return `Charge ended before the numbers agreed (${what.sentence})`;
    case 'route':
      return `Route “${ROUTES[what.route].name}” chosen by hand`;
    case 'refusal-taken-back':
      return 'Refused by mistake, and put right';
    case 'readings-missed':
      return `${what.missed === 1 ? 'An hourly reading was' : `${what.missed} hourly readings were`} missed; the longest while without one was ${(what.longestS / 3600).toFixed(1)} h`;
    case 'overrun':
      return `Charged for ${what.hours.toFixed(1)} h where ${what.expectedHours.toFixed(1)} h were expected`;
    case 'corrected-late':
      return `${what.label} corrected after it was handed over`;
  }
}

/** Acid that is off: what it is, what was read, what is wanted. */
function acidWords(
  { sg25, readSg, readC, wantedSg }: Extract<DeviationWhat, { kind: 'acid' }>,
  unit: TemperatureUnit,
): string {
  const reference = formatTemperature(25, unit);
  return `SG ${sg25.toFixed(3)} at ${reference} (read ${readSg.toFixed(3)} at ${formatTemperature(readC, unit)}); ${wantedSg.toFixed(3)} is wanted`;
}
