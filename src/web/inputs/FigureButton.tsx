import { lazy } from 'react';
import { OpensLater } from '../parts/OpensLater.tsx';
import { type Figure, ORIGIN_WORDS } from '../../core/quantities/figure.ts';
import { figureParts, formatVolume } from '../../core/quantities/format.ts';
import type { VolumeUnit } from '../../core/quantities/quantity.ts';
import { useRules } from '../line/queries.ts';

const ORIGIN_MARK = { maker: '●', house: '◆', default: '○', measured: '■', computed: '=' } as const;

/** A figure in the shop's units: volumes may be ounces, everything else is as it is kept. */
function shownParts(figure: Figure, volumeUnit: VolumeUnit): { number: string; unit: string } {
  if (figure.unit !== 'mL' || volumeUnit === 'mL') return figureParts(figure);
  const [number = '', unit = ''] = formatVolume(figure.value, volumeUnit).split(' ');
  return { number, unit };
}

const FigurePopover = lazy(async () => ({
  default: (await import('./FigurePopover.tsx')).FigurePopover,
}));

/** A number that opens to its formula, its inputs and where it came from. */
export function FigureButton({ figure }: { figure: Figure }) {
  const { volumeUnit } = useRules();
  const { number, unit } = shownParts(figure, volumeUnit);
  return (
    <OpensLater
      className="flex min-h-11 w-full flex-col justify-start rounded-md px-2 py-1 text-left hover:bg-hair"
      menu={(button) => <FigurePopover {...button} figure={figure} />}
    >
      <span className="label block">{figure.label}</span>
      <span className="font-label text-2xl leading-tight font-semibold">
        {number} {unit && <small className="text-base font-medium text-soft">{unit}</small>}
      </span>
      <span className="block text-sm text-soft">
        <span aria-hidden>{ORIGIN_MARK[figure.origin]} </span>
        {ORIGIN_WORDS[figure.origin]}
      </span>
    </OpensLater>
  );
}
