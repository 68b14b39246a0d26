import { type ChargePlan, type Stage, type Until } from './chargePlan.ts';
import { type PlanRun, sayHours } from './runPlan.ts';
import { stageEndWords } from './stageEnd.ts';

/** What a plan is said for: one battery in its amps and volts, or none in particular. */
export interface PlanScale {
  c20Ah: number;
  cells: number;
}

/** A number within a sentence that can be typed or dragged. `path` leads to it in the plan's data. */
export interface NumberPart {
  kind: 'number';
  path: readonly (string | number)[];
  /** In the unit shown. */
  value: number;
  unit: string;
  decimals: number;
  least: number;
  most: number;
  /** One notch of a drag. */
  step: number;
  /** Shown = stored × factor. */
  factor: number;
  label: string;
}

export type SentencePart = { kind: 'text'; text: string } | NumberPart;

const HOUR = 3600;

/** A stage as a sentence with its numbers apart, so that the screen can let them be changed. */
export function stageSentence(stage: Stage, index: number, scale: PlanScale): SentencePart[] {
  const at = ['stages', index] as const;
  const amps = (value: number, label: string, ...path: (string | number)[]): NumberPart => ({
    kind: 'number',
    path: [...at, ...path],
    value: value * scale.c20Ah,
    unit: 'A',
    decimals: scale.c20Ah < 40 ? 2 : 1,
    least: 0.01 * scale.c20Ah,
    most: (stage.do === 'pulse' || stage.do === 'discharge' ? 0.5 : 0.2) * scale.c20Ah,
    step: 0.0025 * scale.c20Ah,
    factor: scale.c20Ah,
    label,
  });
  const volts = (value: number, label: string, ...path: (string | number)[]): NumberPart => ({
    kind: 'number',
    path: [...at, ...path],
    value: value * scale.cells,
    unit: 'V',
    decimals: 2,
    least: (stage.do === 'discharge' ? 1.6 : 2.15) * scale.cells,
    most: (stage.do === 'discharge' ? 2.0 : 2.7) * scale.cells,
    step: 0.01 * (scale.cells / 6),
    factor: scale.cells,
    label,
  });
  const seconds = (value: number, label: string, ...path: (string | number)[]): NumberPart => ({
    kind: 'number',
    path: [...at, ...path],
    value,
    unit: 's',
    decimals: 0,
    least: 1,
    most: 600,
    step: 1,
    factor: 1,
    label,
  });
  const until = untilParts(stage, scale, at, amps, volts);
  switch (stage.do) {
    case 'current':
      return [text('Charge at'), amps(stage.cRate, 'Current', 'cRate'), ...until];
    case 'voltage':
      return [
        text('Hold'),
        volts(stage.perCell, 'Volts', 'perCell'),
        text('with at most'),
        amps(stage.cRate, 'Current', 'cRate'),
        ...until,
      ];
    case 'pulse':
      return [
        text('Bursts of'),
        amps(stage.cRate, 'Current of a burst', 'cRate'),
        text('for'),
        seconds(stage.onS, 'Burst', 'onS'),
        text('with'),
        seconds(stage.offS, 'Pause', 'offS'),
        text('between, never above'),
        volts(stage.perCell, 'Volts', 'perCell'),
        ...until,
      ];
    case 'rest':
      return [text('Rest'), ...until];
    case 'discharge':
      return [
        text('Discharge at'),
        amps(stage.cRate, 'Current', 'cRate'),
        text('down to'),
        volts(stage.perCell, 'Cut-off', 'perCell'),
        ...until,
      ];
    case 'float':
      return [
        text('Float at'),
        volts(stage.perCell, 'Volts', 'perCell'),
        text('with at most'),
        amps(stage.cRate, 'Current', 'cRate'),
        ...until,
      ];
  }
}

type Make = (value: number, label: string, ...path: (string | number)[]) => NumberPart;

function untilParts(
  stage: Stage,
  scale: PlanScale,
  at: readonly (string | number)[],
  amps: Make,
  volts: Make,
): SentencePart[] {
  const parts: SentencePart[] = [];
  const hours = (seconds: number, label: string, ...path: (string | number)[]): NumberPart => ({
    kind: 'number',
    path: [...at, ...path],
    value: seconds / HOUR,
    unit: 'h',
    decimals: 1,
    least: 0.1,
    most: 168,
    step: 0.5,
    factor: 1 / HOUR,
    label,
  });
  const ending = (u: Until, i: number): SentencePart[] => {
    switch (u.when) {
      case 'volts':
        return [text('it reaches'), volts(u.perCell, 'Until volts', 'until', i, 'perCell')];
      case 'amps':
        return [
          text('the current is below'),
          {
            ...amps(u.cRate, 'Until amps', 'until', i, 'cRate'),
            least: 0.002 * scale.c20Ah,
            step: 0.0005 * scale.c20Ah,
            decimals: 2,
          },
        ];
      case 'volts-flat':
        return [
          text('the volts have not risen for'),
          hours(u.overS, 'Without rise', 'until', i, 'overS'),
        ];
      case 'sg-flat':
        return [text(`${u.readings} SG readings an hour apart agree`)];
      case 'ah':
        return [
          text('it has taken'),
          {
            kind: 'number',
            path: [...at, 'until', i, 'share'],
            value: u.share * scale.c20Ah,
            unit: 'Ah',
            decimals: 1,
            least: 0,
            most: 3 * scale.c20Ah,
            step: 0.01 * scale.c20Ah,
            factor: scale.c20Ah,
            label: 'Ah in',
          },
        ];
      case 'time':
        return [];
    }
  };
  const conditions = stage.until.flatMap((u, i) => (u.when === 'time' ? [] : [ending(u, i)]));
  conditions.forEach((condition, i) => parts.push(text(i === 0 ? 'until' : 'or'), ...condition));
  stage.until.forEach((u, i) => {
    if (u.when === 'time')
      parts.push(
        text(conditions.length > 0 ? ', at most' : 'for'),
        hours(u.s, 'Time', 'until', i, 's'),
      );
  });
  return parts;
}

const text = (words: string): SentencePart => ({ kind: 'text', text: words });

/** The same sentence as plain words, for the sheet and for reading aloud. */
export function sayStage(stage: Stage, scale: PlanScale): string {
  const words = stageSentence(stage, 0, scale)
    .map((part) =>
      part.kind === 'text' ? part.text : `${part.value.toFixed(part.decimals)} ${part.unit}`,
    )
    .join(' ')
    .replace(/ ,/g, ',');
  return `${words}.`;
}

/** How a running plan stands with one of its stages, and the words for it. */
export function stageWords(
  run: PlanRun,
  stage: number,
): { phase: 'over' | 'running' | 'coming'; words: string } {
  const end = run.ended[stage];
  if (run.finished || stage < run.stage)
    return { phase: 'over', words: `Over: ${end ? stageEndWords(end) : ''}.` };
  if (stage > run.stage) return { phase: 'coming', words: '' };
  return { phase: 'running', words: `For ${sayHours(run.stageS)} so far.` };
}

/**
 * A plan with one of its numbers changed.
 *
 * @param part from {@link stageSentence}
 * @param shown the new value in the unit shown
 */
export function withNumber(plan: ChargePlan, part: NumberPart, shown: number): ChargePlan {
  const copy = structuredClone(plan) as unknown as Record<string, unknown>;
  let place: Record<string | number, unknown> = copy;
  for (const key of part.path.slice(0, -1)) place = place[key] as Record<string | number, unknown>;
  place[part.path.at(-1) as string | number] = shown / part.factor;
  return copy as unknown as ChargePlan;
}
