import { notAsked, schoolOf, SCHOOLS } from '../house/schools.ts';
import {
  formatDuration,
  formatFigure,
  formatStamp,
  formatTemperature,
} from '../quantities/format.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';
import { correctSg, REFERENCE_TEMPERATURE_C } from '../electrolyte/concentration.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import type { CellValues, Reading } from '../job/reading.ts';
import { type Job, recoveryOf, runsWith, type RunOf } from '../job/job.ts';
import type { Outcome, Verdict, LeadDecision } from '../job/outcome.ts';
import { linesNotKept } from '../plan/lines.ts';
import { figureOf } from '../plan/jobPlan.ts';
import { deviationWords } from '../job/deviationWords.ts';
import { stepById, type StepKind } from '../plan/procedure.ts';
import { moduleOf } from '../steps/registry.ts';
import { ROUTES } from '../diagnosis/routes.ts';
import { OUTCOMES, type RecoveryOutcome } from '../job/recoveryState.ts';
import { WAKES } from '../diagnosis/wakes.ts';
import { type CycleRow, cyclesOf } from '../recovery/cycles.ts';
import { cellWords, fillText } from '../plan/words.ts';
import { judge } from '../job/verdict.ts';
import { stageEndWords, type StageEnd } from '../charging/stageEnd.ts';
import { refusalWords } from '../job/refusalWords.ts';

export const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  passed: 'Passed',
  light: 'Light duty only',
  claim: 'Set aside as a claim',
  recover: 'Sent to recovery',
  recycle: 'To the recycler',
  refused: 'Refused',
};

const LEAD_WORDS: Readonly<Record<LeadDecision, string>> = {
  'go-on': 'Go on with the step in hand',
  'charge-again': 'Charge and test again',
  claim: OUTCOME_WORDS.claim,
  recover: OUTCOME_WORDS.recover,
  recycle: OUTCOME_WORDS.recycle,
};

/** Outcomes of a recovery as the outcome its job will close with. */
const RECOVERED: Readonly<Record<Exclude<RecoveryOutcome, 'another'>, Outcome>> = {
  return: 'passed',
  light: 'light',
  recycle: 'recycle',
};

/** Percent with its band, and what it was read off. */
function chargeHeadline(
  { socBand, socBy }: Verdict,
  percent: number,
): { label: string; value: string } {
  if (!socBand) return { label: 'State of charge', value: `${percent.toFixed(0)} %` };
  return {
    label:
      socBy === 'acid' ? 'State of charge, by its own acid' : 'State of charge, by the usual table',
    value: `${percent.toFixed(0)} % (${socBand.low.toFixed(0)}–${socBand.high.toFixed(0)})`,
  };
}

/** How the job stands, for whoever gets the sheet: at the hand-over, what has been signed already. */
function verdictWords({ state }: Job): string {
  if (state.outcome) return OUTCOME_WORDS[state.outcome];
  if (state.status === 'with-lead') return 'With the lead';
  const recovered = state.recovery?.outcomes.at(-1)?.outcome;
  if (recovered && recovered !== 'another') return OUTCOME_WORDS[RECOVERED[recovered]];
  return state.verdict?.outcome === 'pass' ? OUTCOME_WORDS.passed : 'In process';
}

const ROLE_WORDS: Readonly<Record<Reading['role'], string>> = {
  arrival: 'As it came',
  charge: 'On charge',
  rest: 'At rest',
  load: 'Under load',
  analyser: 'By analyser',
  cells: 'By cell',
  hold: 'After the hold',
  spot: 'Spot',
  shelf: 'On the shelf',
};
const MARK_WORDS: Readonly<Record<Reading['marks'][number], string>> = {
  early: 'early, not judged',
  surface: 'surface charge, not judged',
  confirmed: 'unusual, confirmed',
};

export interface SheetWords {
  timeZone: string;
  temperatureUnit: TemperatureUnit;
  /** Temperature gravities are printed at, °C; 25 where the shop has not said. */
  sgReferenceC?: number;
  /** Name behind a signature. */
  nameOf: (id: string) => string;
}

export interface SheetReading {
  when: string;
  what: string;
  values: string;
  remark: string;
  corrected: boolean;
}

/** The handover sheet as words and numbers; the screen and the PDF only set it. */
export interface Sheet {
  verdict: string;
  reasons: string[];
  headline: { label: string; value: string }[];
  facts: { label: string; value: string }[];
  /** What a lead decided. */
  decisions: { when: string; what: string; reason: string; by: string }[];
  steps: { when: string; title: string; by: string; remark: string }[];
  readings: SheetReading[];
  /** Charges that an instrument ran: the plan in its sentences, and how it ended. */
  charges: { title: string; said: string[]; ended: string }[];
  deviations: { when: string; what: string; reason: string; by: string }[];
  notes: { when: string; text: string; by: string }[];
}

/** A reading's values in a line: `13.86 V · 1.20 A · 27 °C`. */
export function readingText(reading: Reading, unit: TemperatureUnit): string {
  const {
    voltageV,
    currentA,
    temperatureC,
    specificGravity,
    resistanceMilliohm,
    ccaA,
    massG,
    beforeV,
    afterV,
  } = reading.values;
  return [
    beforeV === undefined ? null : `before ${beforeV.toFixed(2)} V`,
    reading.cells ? cellsText(reading.cells) : null,
    voltageV === undefined ? null : `${voltageV.toFixed(2)} V`,
    afterV === undefined ? null : `after ${afterV.toFixed(2)} V`,
    currentA === undefined ? null : `${currentA.toFixed(2)} A`,
    specificGravity === undefined ? null : `SG ${specificGravity.toFixed(3)}`,
    resistanceMilliohm === undefined ? null : `${resistanceMilliohm.toFixed(1)} mΩ`,
    ccaA === undefined
      ? null
      : `CCA ${ccaA.toFixed(0)} A${reading.standard ? ` (${reading.standard})` : ''}`,
    massG === undefined ? null : `${massG.toFixed(0)} g`,
    temperatureC === undefined ? null : formatTemperature(temperatureC, unit),
  ]
    .filter((part) => part !== null)
    .join(' · ');
}

/** Cells in a line: `SG 1.265 1.260 1.262 …`, volts and levels where they were read. */
function cellsText(cells: readonly CellValues[]): string {
  const column = (label: string, of: (cell: CellValues) => string | undefined) =>
    cells.some((c) => of(c) !== undefined)
      ? `${label} ${cells.map((c) => of(c) ?? '–').join(' ')}`
      : null;
  return [
    column('SG', (c) => c.specificGravity?.toFixed(3)),
    column('cells', (c) => c.voltageV?.toFixed(2)),
    column('levels', (c) => c.level),
    column('bubbling', (c) => (c.bubbling === undefined ? undefined : c.bubbling ? 'yes' : 'no')),
  ]
    .filter((part) => part !== null)
    .join(' · ');
}

/** What was filled in, from which lot, and how much. */
function electrolyteWords({ plan, procedure, state }: Job, referenceC: number): string {
  const filled = state.runs.findLast(
    (r) => r.result?.kind === 'pack' || r.result?.kind === 'acid',
  )?.result;
  const kind = leadAcidKind(plan.model.kind);
  if (procedure.purpose !== 'commission') return 'wet stock';
  if (kind.fill === null) return 'filled at the works';
  if (filled?.kind === 'pack')
    return `${filled.code}, lot ${filled.lot}, ${formatFigure(figureOf(plan, 'fillMl'))}`;
  if (filled?.kind !== 'acid') return 'not filled';
  const amount = runsWith(state, 'do').findLast((r) => r.result.amountMl !== undefined)?.result
    .amountMl;
  // A reading at 25 °C is what warmer or colder acid would read, corrected there; to another reference it goes the same way.
  const sg = correctSg(filled.sg25, REFERENCE_TEMPERATURE_C, referenceC);
  return `SG ${sg.toFixed(3)} at ${referenceC} °C, lot ${filled.lot}${amount === undefined ? '' : `, ${amount.toFixed(0)} mL`}`;
}

/** What to say beside a reading. */
export function readingRemark(reading: Reading): string {
  const words = reading.marks.map((m) => MARK_WORDS[m]);
  if (reading.supersededBy) words.unshift('corrected');
  if (reading.supersedes) words.unshift('correction');
  return words.join('; ');
}

export function readingRole(reading: Reading): string {
  return ROLE_WORDS[reading.role];
}

function endedWords(ended: StageEnd | null): string {
  if (ended === null) return 'It was ended by hand.';
  return ended.by === 'hand'
    ? `It was ended ${stageEndWords(ended)}.`
    : `It ended when ${stageEndWords(ended)}.`;
}

/** Before and after, in the words of a sheet; null where the job recovers nothing. */
function recoverySheet(
  job: Job,
  unit: TemperatureUnit,
): Pick<Sheet, 'reasons' | 'headline' | 'facts'> | null {
  const recovery = recoveryOf(job);
  const given = recovery.outcomes.at(-1);
  if (job.procedure.purpose !== 'recover') return null;
  const cycles = cyclesOf(job);
  const [first, last] = [cycles[0], cycles.at(-1)];
  if (!first || !last) return null;
  const change = (
    label: string,
    of: (row: CycleRow) => string | null,
  ): { label: string; value: string }[] => {
    const [before, after] = [of(first), of(last)];
    return before === null && after === null
      ? []
      : [
          {
            label,
            value:
              last === first
                ? (before ?? '–')
                : `${before ?? 'not measured'} before, ${after ?? 'not measured'} after`,
          },
        ];
  };
  const fixed = (value: number | null, digits: number, unit: string): string | null =>
    value === null ? null : `${value.toFixed(digits)}${unit}`;
  return {
    reasons: given
      ? [
          `${OUTCOMES[given.outcome].name}: ${OUTCOMES[given.outcome].plain}`,
          ...given.reasons,
          ...(given.reason ? [given.reason] : []),
        ]
      : [],
    headline: [
      {
        label: 'Capacity of rating',
        value: last.capacity ? `${(100 * last.capacity.health).toFixed(0)} %` : 'not tested',
      },
      {
        label: 'Lost in a week',
        value:
          last.weekLoss === null
            ? 'not held'
            : `${(100 * Math.max(0, last.weekLoss)).toFixed(0)} %`,
      },
      { label: 'At rest', value: fixed(last.voltageV, 2, ' V') ?? 'not measured' },
    ],
    facts: [
      ...change('Rest voltage', (r) => fixed(r.voltageV, 2, ' V')),
      ...change('SG spread of the cells', (r) => fixed(r.sgSpread, 3, '')),
      ...change('Inner resistance', (r) => fixed(r.resistanceMilliohm, 1, ' mΩ')),
      ...change('Resistance by load step', (r) => fixed(r.stepMilliohm, 1, ' mΩ')),
      ...change('CCA', (r) => fixed(r.ccaA, 0, ' A')),
      ...change('Capacity at C20', (r) => fixed(r.capacity?.c20.middle ?? null, 1, ' Ah')),
      ...change('Mass', (r) => fixed(r.massG, 0, ' g')),
      ...recovery.routes.map((r) => ({
        label: `Cycle ${r.attempt}`,
        value: `${ROUTES[r.route].name}${r.wake === 'none' ? '' : `, woken: ${WAKES[r.wake].name}`}`,
      })),
      ...recovery.tests.map((test, i) => ({
        label: recovery.tests.length > 1 ? `Capacity test ${i + 1}` : 'Capacity test',
        value: `${test.currentA.toFixed(1)} A for ${formatDuration(test.minutes * 60)} down to ${test.cutoffV.toFixed(2)} V, begun at ${formatTemperature(test.temperatureC, unit)}${test.rested ? '' : '; not begun from a rested full charge'}`,
      })),
      ...(given?.disposal
        ? [
            {
              label: 'To the recycler',
              value: `${given.disposal.core}; about ${given.disposal.acidL.toFixed(1)} L of acid in it, ${given.disposal.bicarbonateKg.toFixed(1)} kg of bicarbonate at hand`,
            },
          ]
        : []),
    ],
  };
}

/** Sets out a job as its handover sheet. */
export function handoverSheet(job: Job, words: SheetWords): Sheet {
  const { state, plan, procedure } = job;
  const when = (at: number) => formatStamp(at, words.timeZone);
  const given = state.verdict;
  const current = judge(job);
  const recovered = recoverySheet(job, words.temperatureUnit);
  const reasons = state.refusal
    ? [refusalWords(job, state.refusal)]
    : [...(recovered?.reasons ?? given?.reasons ?? [])];
  if (given && given.outcome === 'pass' && current.outcome !== 'pass')
    reasons.push('A reading was corrected after this verdict; as corrected, it would not pass.');
  const headline = recovered
    ? recovered.headline
    : given && given.restV !== null && given.socPercent !== null
      ? [
          chargeHeadline(given, given.socPercent),
          { label: 'At rest', value: `${given.restV.toFixed(2)} V` },
          given.loadV === null && typeof given.ccaA === 'number'
            ? { label: `CCA (${plan.model.ccaStandard})`, value: `${given.ccaA.toFixed(0)} A` }
            : {
                label: `Under ${plan.figures.loadA.value.toFixed(0)} A`,
                value: given.loadV === null ? 'not tested' : `${given.loadV.toFixed(2)} V`,
              },
        ]
      : [];
  const chargeRuns = runsWith(state, 'charge');

  return {
    verdict: verdictWords(job),
    reasons,
    headline,
    facts: [
      { label: 'Model', value: `${plan.model.code}, ${plan.model.name}` },
      {
        label: 'Rating',
        value: `${plan.model.nominalV} V, ${plan.model.c20Ah} Ah (C20)${plan.model.cca === null ? '' : `, CCA ${plan.model.cca} A (${plan.model.ccaStandard})`}`,
      },
      {
        label: 'Electrolyte',
        value: electrolyteWords(job, words.sgReferenceC ?? REFERENCE_TEMPERATURE_C),
      },
      ...chargeRuns.map((r, i) => ({
        label: chargeRuns.length > 1 ? `Charge ${i + 1}` : 'Charge',
        value: `${formatDuration(r.result.hours * 3600)} with current on, about ${r.result.ampereHours.toFixed(1)} Ah in`,
      })),
      ...state.topUps.map((t) => ({
        label: t.liquid === 'acid' ? 'Acid topped up' : 'Water added',
        value: `${cellWords(t.cells)}${t.ml === null ? '' : `, ${t.ml.toFixed(0)} mL`}${t.lot ? `, lot ${t.lot}` : ''}`,
      })),
      ...(recovered?.facts ?? []),
      { label: 'Pass line', value: `${formatFigure(plan.figures.passV)} at rest` },
      { label: 'Procedure', value: `${procedure.name}, version ${procedure.version}` },
      ...linesNotKept(plan).map((name) => ({
        label: 'By today’s rule',
        value: `${name}: this job began before it was kept with the plan`,
      })),
      ...notAsked(plan.schools).map((key) => ({
        label: 'By default',
        value: `${SCHOOLS[key].question}: asked only since, ${schoolOf(key, plan.schools).school.name}`,
      })),
    ],
    decisions: state.leadDecisions.map((d) => ({
      when: when(d.at),
      what: LEAD_WORDS[d.decision],
      reason: d.reason,
      by: words.nameOf(d.by),
    })),
    steps: state.runs.map((run) => {
      const step = stepById(procedure, run.stepId);
      const said = moduleOf(step).remark?.(job, step, run as RunOf<StepKind>) ?? [];
      const end = run.end === 'done' || run.end === null ? [] : [run.end];
      return {
        when: when(run.endedAt ?? run.startedAt),
        title: fillText(step.title, plan),
        by: words.nameOf(run.by ?? ''),
        remark: [...said, ...end].join(moduleOf(step).byItself ? ', ' : '; '),
      };
    }),
    readings: state.readings.map((r) => ({
      when: when(r.at),
      what: readingRole(r),
      values: readingText(r, words.temperatureUnit),
      remark: readingRemark(r),
      corrected: r.supersededBy !== null,
    })),
    charges: chargeRuns.flatMap(({ result }, i) =>
      result.live
        ? [
            {
              title: `${chargeRuns.length > 1 ? `Charge ${i + 1}` : 'Charge'} by plan: ${result.live.planName}`,
              said: result.live.sentences,
              ended: endedWords(result.ended),
            },
          ]
        : [],
    ),
    deviations: state.deviations.map((d) => ({
      when: when(d.at),
      what: `${fillText(stepById(procedure, d.stepId).title, plan)}: ${deviationWords(d.what, words.temperatureUnit)}`,
      reason: d.reason,
      by: words.nameOf(d.by),
    })),
    notes: state.notes.map((n) => ({ when: when(n.at), text: n.text, by: words.nameOf(n.by) })),
  };
}

/** What was put on record after a sheet was kept: corrections and whatever else deviates since, a line each. */
export function sinceKept({ state }: Job, keptAt: number, words: SheetWords): string[] {
  return state.deviations
    .filter((d) => d.at > keptAt)
    .map(
      (d) =>
        `${formatStamp(d.at, words.timeZone)}: ${deviationWords(d.what, words.temperatureUnit)}. ${d.reason} (${words.nameOf(d.by)})`,
    );
}
