import { notAsked, schoolOf, SCHOOLS } from '../house/schools.ts';
import { formatDuration, formatFigure, formatStamp } from '../quantities/format.ts';
import { correctSg, REFERENCE_TEMPERATURE_C } from '../electrolyte/concentration.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { type Job, runsWith, type RunOf } from '../job/job.ts';
import { OUTCOME_WORDS, type Outcome, type Verdict, type LeadDecision } from '../job/outcome.ts';
import { linesNotKept } from '../plan/lines.ts';
import { figureOf } from '../plan/jobPlan.ts';
import { deviationWords } from '../job/deviationWords.ts';
import { stepById, type StepKind } from '../plan/procedure.ts';
import { moduleOf } from '../steps/registry.ts';
import { type RecoveryOutcome } from '../job/recoveryState.ts';
import { cellWords, fillText } from '../plan/words.ts';
import { judge } from '../job/verdict.ts';
import { stageEndWords, type StageEnd } from '../charging/stageEnd.ts';
import { refusalWords } from '../job/refusalWords.ts';
import { readingRole, readingRemark, readingText } from './readingWords.ts';
import { reserveAdvice } from './reserveAdvice.ts';
import { recoverySheet } from './recoverySheet.ts';
import type { SheetWords, Sheet } from './sheetForm.ts';
import { chargerInUseWords } from '../chargers/fitWords.ts';
import { sizeWords } from '../batteries/model.ts';

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

function endedWords(ended: StageEnd | null): string {
  if (ended === null) return 'It was ended by hand.';
  return ended.by === 'hand'
    ? `It was ended ${stageEndWords(ended)}.`
    : `It ended when ${stageEndWords(ended)}.`;
}

/** Does somebody take it away to use it, as far as has been signed? */
function goesOut(job: Job): boolean {
  const words = verdictWords(job);
  return words === OUTCOME_WORDS.passed || words === OUTCOME_WORDS.light;
}

/** Sets out a job as its handover sheet. */
export function handoverSheet(job: Job, words: SheetWords): Sheet {
  const { state, plan, procedure } = job;
  const when = (at: number) => formatStamp(at, words);
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
        value: `${plan.model.nominalV} V, ${sizeWords(plan.model)}${plan.model.cca === null ? '' : `, CCA ${plan.model.cca} A (${plan.model.ccaStandard})`}`,
      },
      {
        label: 'Electrolyte',
        value: electrolyteWords(job, words.sgReferenceC ?? REFERENCE_TEMPERATURE_C),
      },
      ...chargeRuns.map((r, i) => ({
        label: chargeRuns.length > 1 ? `Charge ${i + 1}` : 'Charge',
        value: `${formatDuration(r.result.hours * 3600)} with current on, ${r.result.estimatedAh ? `${r.result.estimatedAh.low.toFixed(0)} to ${r.result.estimatedAh.high.toFixed(0)} Ah in (estimated: the charger shows no current)` : `about ${r.result.ampereHours.toFixed(1)} Ah in`}${r.result.charger ? `, on ${chargerInUseWords(r.result.charger)}` : ''}`,
      })),
      ...state.topUps.map((t) => ({
        label: t.liquid === 'acid' ? 'Acid topped up' : 'Water added',
        value: `${cellWords(t.cells)}${t.ml === null ? '' : `, ${t.ml.toFixed(0)} mL`}${t.lot ? `, lot ${t.lot}` : ''}`,
      })),
      ...(recovered?.facts ?? []),
      ...(goesOut(job) ? reserveAdvice(job) : []),
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
        `${formatStamp(d.at, words)}: ${deviationWords(d.what, words.temperatureUnit)}. ${d.reason} (${words.nameOf(d.by)})`,
    );
}
