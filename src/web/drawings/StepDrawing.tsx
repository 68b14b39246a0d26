import type { Step, StepKind } from '../../core/plan/procedure.ts';

import { type Scene, SCENES } from './stepScenes.tsx';

/** What a step of a kind looks like; nothing where it is read and decided. */
const OF_KIND: Readonly<Record<StepKind, Scene | null>> = {
  acknowledge: 'safe',
  checks: 'look',
  pack: 'pack',
  acid: 'acid',
  arrival: 'meter',
  cells: 'cells',
  do: 'fill',
  ports: 'level',
  wait: 'wait',
  charge: 'charge',
  measure: 'meter',
  load: 'load',
  verdict: null,
  story: null,
  diagnose: null,
  wake: 'wake',
  'wake-check': 'wake',
  rinse: 'rinse',
  capacity: 'capacity',
  'hold-measure': 'meter',
  outcome: null,
  handover: 'tag',
};

/** Steps that look different from others of their kind. */
const OF_STEP: Readonly<Record<string, Scene>> = {
  foil: 'foil',
  bubbles: 'bubbles',
  lift: 'empty',
  clear: 'clear',
  close: 'caps',
  caps: 'caps',
};

const sceneOf = ({ id, kind }: Pick<Step, 'id' | 'kind'>): Scene | null =>
  OF_STEP[id] ?? OF_KIND[kind];

/** The picture of a step. It says nothing that its words do not say. */
export function StepDrawing({
  step,
  small = false,
}: {
  step: Pick<Step, 'id' | 'kind'>;
  small?: boolean;
}) {
  const scene = sceneOf(step);
  if (!scene) return null;
  return (
    <svg
      viewBox="0 0 240 130"
      className={`w-full rounded-md bg-paper ${small ? 'h-20 max-w-36' : 'h-36 max-w-64'}`}
      aria-hidden
      data-scene={scene}
    >
      {SCENES[scene]}
    </svg>
  );
}
