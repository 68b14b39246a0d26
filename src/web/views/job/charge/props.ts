import type { StepOf } from '../../../../core/plan/procedure.ts';
import type { PanelProps } from '../../../inputs/Card.tsx';

/** What every part of the panel of a charge is given. */
export type ChargeProps = PanelProps & { step: StepOf<'charge'> };
