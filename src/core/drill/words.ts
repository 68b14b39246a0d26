import { chargerFaultWords } from '../chargers/fitWords.ts';
import { FAMILIES, type FamilyKey } from '../diagnosis/practice/families.ts';
import { deviationWords } from '../job/deviationWords.ts';
import { formatDuration } from '../quantities/format.ts';
import type { Decision, LookKind, MarkKey } from './case.ts';
import type { Fact } from './facts.ts';
import type { MarkReason } from './marks.ts';
import type { Shown } from './acts.ts';

/** Words of cases, marks and what was shown. Sentences are kept in SI; the edge says them in the units of the shop. */

export const MARK_WORDS: Readonly<Record<MarkKey, { name: string; is: string }>> = {
  safety: { name: 'Safety', is: 'Nothing was done that could hurt somebody.' },
  procedure: { name: 'Procedure', is: 'The order, the waits and the checks.' },
  economy: { name: 'Economy', is: 'Minutes of hands and hours, beside a good technician.' },
  judgement: { name: 'Judgement', is: 'What was decided, beside what it was.' },
  record: { name: 'Record', is: 'Would the sheet be believed?' },
};

export const DECISION_WORDS: Readonly<Record<Decision, string>> = {
  passed: 'Returned to service',
  light: 'Light duty',
  claim: 'Set aside as a claim',
  recover: 'Sent to recovery',
  recycle: 'To the recycler',
  refused: 'Refused',
  'with-lead': 'Handed to the lead',
};

export const LOOK_WORDS: Readonly<Record<LookKind, string>> = {
  label: 'The label',
  case: 'The case',
  posts: 'The posts',
  frost: 'Is it frozen?',
  foil: 'The foil',
  vent: 'Vent and tube',
  tubes: 'The tubes',
  strip: 'The cap strip',
  levels: 'Level in every cell',
  packs: 'The packs on the shelf',
  customer: 'Ask the customer',
};

/** The reason that a job writes itself, where nobody was asked for one. */
const BY_THE_CLOCK = 'By the clock';

/** The same within a sentence. */
const LOOKED_AT: Readonly<Record<LookKind, string>> = {
  label: 'the label',
  case: 'the case',
  posts: 'the posts',
  frost: 'whether it is frozen',
  foil: 'the foil',
  vent: 'the vent and its tube',
  tubes: 'the tubes',
  strip: 'the cap strip',
  levels: 'the level in every cell',
  packs: 'the packs on the shelf',
  customer: 'what its owner says',
};

/** What a battery truly was, as a sentence without its stop. */
export const wasWords = (family: FamilyKey): string =>
  family === 'nothing' ? 'There was nothing wrong with it' : `It was ${FAMILIES[family].is}`;

/** What one fact means, in a sentence. */
export function factWords(fact: Fact): string {
  switch (fact.kind) {
    case 'charged-never':
      return 'Current was put through a battery that must never have any.';
    case 'filled-wrong':
      return {
        pack: 'Acid of a pack with another code went in.',
        foil: 'It was filled although its foil was broken.',
        acid: 'Acid of another strength went in.',
      }[fact.what];
    case 'spark':
      return fact.byLoad
        ? `The load tester went on ${fact.afterMin < 1 ? 'while it was charging' : `${fact.afterMin.toFixed(0)} min after the charge`}: it sparks, and gas still stood over the cells.`
        : `The clips came off ${fact.afterMin.toFixed(0)} min after the charge: gas still stood over the cells.`;
    case 'left-hot':
      return `It stood above 50 °C on the charger for ${fact.minutes.toFixed(0)} min.`;
    case 'boost':
      return 'It was charged by an engine starter’s boost.';
    case 'strip-pressed':
      return 'It was charged with its cap strip pressed down: gas could not get out.';
    case 'sent-out':
      return fact.strands
        ? 'It was returned to service where a failure strands someone, and it will fail.'
        : 'It was returned to service, and it will come back.';
    case 'not-looked':
      return `Answered without a look: ${LOOKED_AT[fact.what]}.`;
    case 'answered-otherwise':
      return `Answered otherwise than the look showed: ${LOOKED_AT[fact.what]}.`;
    case 'not-measured':
      return `${fact.value}: entered without a measurement.`;
    case 'written-otherwise':
      return `${fact.value}: the instrument showed ${said(fact.shown)}, ${said(fact.written)} was entered.`;
    case 'deviation':
      return `${deviationWords(fact.what, 'C')}.${fact.reason === BY_THE_CLOCK ? '' : ` Reason given: ${fact.reason}.`}${
        typeof fact.what !== 'string' && fact.what.kind === 'charger'
          ? ` ${fact.what.faults.map(chargerFaultWords).join(' ')}`
          : ''
      }`;
    case 'overdischarged':
      return `It was discharged ${fact.byV.toFixed(1)} V below its cut-off.`;
    case 'lost-water':
      return `It lost ${fact.grams.toFixed(0)} g of water that cannot be put back.`;
    case 'read-early':
      return 'The voltage was read before the rest was over: surface charge.';
  }
}

const said = (value: number): string => String(Number(value.toFixed(3)));

/** Why points were lost, or what a mark stands on. */
export function reasonWords(reason: MarkReason): string {
  switch (reason.kind) {
    case 'fact':
      return factWords(reason.fact);
    case 'minutes':
      return `${formatDuration(60 * reason.yours)} of hands; a good technician needs ${formatDuration(60 * reason.good)}.`;
    case 'hours':
      return `Done after ${formatDuration(3600 * reason.yours)}; a good technician is done after ${formatDuration(3600 * reason.good)}.`;
    case 'decision': {
      const right = reason.right.map((d) => DECISION_WORDS[d].toLowerCase()).join(' or ');
      if (reason.yours === null) return `Not decided. Right: ${right}.`;
      if (reason.right.includes(reason.yours)) return `${DECISION_WORDS[reason.yours]}: right.`;
      if (reason.misled)
        return `${DECISION_WORDS[reason.yours]}: wrong, but everything that was worth reading spoke for it. Right: ${right}.`;
      return reason.defensible
        ? `${DECISION_WORDS[reason.yours]}: can be defended. Better: ${right}.`
        : `${DECISION_WORDS[reason.yours]}: wrong. Right: ${right}.`;
    }
    case 'family':
      return `Called ${FAMILIES[reason.said as FamilyKey].is}. ${wasWords(reason.was as FamilyKey)}.`;
    case 'late':
      return `Promised after ${formatDuration(3600 * reason.promisedH)}, ready ${formatDuration(3600 * reason.byH)} later.`;
    case 'unfinished':
      return 'The case was left before its end.';
  }
}

/** What an instrument or a look showed, in a line. */
export function shownWords(shown: Shown): string {
  if (shown.of === 'look') return shown.says;
  const { values, cells, feel, showing, says } = shown;
  const parts = [
    values.beforeV !== undefined && `${values.beforeV.toFixed(2)} V before`,
    values.voltageV !== undefined &&
      `${values.voltageV.toFixed(2)} V${values.beforeV === undefined ? '' : ' under load'}`,
    values.afterV !== undefined && `${values.afterV.toFixed(2)} V after`,
    values.currentA !== undefined && `${values.currentA.toFixed(2)} A`,
    values.specificGravity !== undefined && `SG ${values.specificGravity.toFixed(3)}`,
    values.ccaA !== undefined && `CCA ${values.ccaA.toFixed(0)} A`,
    values.resistanceMilliohm !== undefined && `${values.resistanceMilliohm.toFixed(1)} mΩ`,
    values.massG !== undefined && `${(values.massG / 1000).toFixed(3)} kg`,
    values.temperatureC !== undefined && `${values.temperatureC.toFixed(0)} °C`,
    cells?.some((c) => c.specificGravity !== undefined) &&
      `SG ${cells.map((c) => c.specificGravity?.toFixed(3) ?? '–').join(' · ')}`,
    cells?.some((c) => c.voltageV !== undefined) &&
      `${cells.map((c) => c.voltageV?.toFixed(2) ?? '–').join(' · ')} V`,
    feel && feel.map((f, k) => `${k + 1} ${f}`).join(' · '),
    showing && showing.light,
  ].filter(Boolean);
  return `${parts.join(', ')}${says ? `. ${says}` : ''}`;
}
