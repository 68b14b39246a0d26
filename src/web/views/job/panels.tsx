import type { ComponentType } from 'react';
import type { ChargeState } from '../../../core/job/chargeState.ts';
import type { JobState } from '../../../core/job/job.ts';
import {
  type Procedure,
  type Step,
  stepById,
  type StepKind,
  type StepOf,
} from '../../../core/plan/procedure.ts';
import { isLater, later } from '../../parts/later.tsx';
import { AcidPanel } from './steps/AcidPanel.tsx';
import type { CardTone, PanelProps } from '../../inputs/Card.tsx';
import { CellsPanel } from './steps/CellsPanel.tsx';
import { ChargePanel } from './charge/ChargePanel.tsx';
import { AcknowledgePanel, ChecksPanel, DoPanel, PackPanel } from './steps/CheckPanels.tsx';
import { HandoverPanel, VerdictPanel } from './steps/DecisionPanels.tsx';
import { ArrivalPanel, LoadPanel, MeasurePanel } from './steps/MeasurePanels.tsx';
import { PortsPanel } from './steps/PortsPanel.tsx';
import { WaitPanel } from './steps/WaitPanel.tsx';

// A recovery's panels are fetched by jobs that recover: most never do.
const CapacityPanel = later(async () => (await import('./steps/CapacityPanel.tsx')).CapacityPanel);
const DiagnosePanel = later(
  async () => (await import('./diagnosis/DiagnosePanel.tsx')).DiagnosePanel,
);
const HoldPanel = later(async () => (await import('./steps/OutcomePanel.tsx')).HoldPanel);
const OutcomePanel = later(async () => (await import('./steps/OutcomePanel.tsx')).OutcomePanel);
const RinsePanel = later(async () => (await import('./steps/RinsePanel.tsx')).RinsePanel);
const StoryPanel = later(async () => (await import('./steps/StoryPanel.tsx')).StoryPanel);
const WakePanel = later(async () => (await import('./steps/WakePanels.tsx')).WakePanel);
const WakeCheckPanel = later(
  async () => (await import('./steps/WakeCheckPanel.tsx')).WakeCheckPanel,
);

/** How a kind of step is shown while it is in hand. */
interface StepFace<K extends StepKind> {
  Panel: ComponentType<PanelProps & { step: StepOf<K> }>;
  /** What its edge says the battery is doing; plain where it does not say. */
  tone?: (charge: ChargeState | null) => CardTone;
  /** Its words are known by now and fold away. */
  folded?: (charge: ChargeState | null) => boolean;
}

/** Every kind of step, and its panel. */
const PANELS: { readonly [K in StepKind]: StepFace<K> } = {
  acknowledge: { Panel: AcknowledgePanel },
  checks: { Panel: ChecksPanel },
  pack: { Panel: PackPanel },
  acid: { Panel: AcidPanel },
  arrival: { Panel: ArrivalPanel },
  cells: { Panel: CellsPanel },
  do: { Panel: DoPanel },
  ports: { Panel: PortsPanel },
  wait: { Panel: WaitPanel, tone: () => 'wet' },
  charge: {
    Panel: ChargePanel,
    tone: (charge) =>
      charge?.mode === 'halted' ? 'stop' : charge?.mode === 'running' ? 'live' : 'plain',
    folded: (charge) => charge !== null && charge.mode !== 'ended',
  },
  measure: { Panel: MeasurePanel },
  load: { Panel: LoadPanel },
  verdict: { Panel: VerdictPanel },
  story: { Panel: StoryPanel },
  diagnose: { Panel: DiagnosePanel },
  wake: { Panel: WakePanel },
  'wake-check': { Panel: WakeCheckPanel },
  rinse: { Panel: RinsePanel },
  capacity: { Panel: CapacityPanel },
  'hold-measure': { Panel: HoldPanel },
  outcome: { Panel: OutcomePanel },
  handover: { Panel: HandoverPanel },
};

/** How a step is shown. A panel is only ever given steps of its own kind, which the compiler cannot see here. */
export const faceOf = (
  step: Step,
): Omit<StepFace<StepKind>, 'Panel'> & { Panel: ComponentType<PanelProps & { step: Step }> } =>
  PANELS[step.kind] as unknown as StepFace<StepKind> & {
    Panel: ComponentType<PanelProps & { step: Step }>;
  };

/** Fetches how the step in hand is shown, where that is not at hand yet. */
export async function stepAhead(procedure: Procedure, { current }: JobState): Promise<void> {
  if (!current) return;
  const { Panel } = faceOf(stepById(procedure, current.stepId));
  if (isLater(Panel)) await Panel.ahead();
}
