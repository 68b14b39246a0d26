import type { ReactNode } from 'react';
import type { StepOf } from '../../../../core/plan/procedure.ts';
import type { PanelProps } from '../../../inputs/Card.tsx';

/** What every part of the panel of a charge is given. */
export type ChargeProps = PanelProps & { step: StepOf<'charge'> };

/** A charge that is about to begin at a place. */
export type StartProps = ChargeProps & { place: number; aside: ReactNode };
