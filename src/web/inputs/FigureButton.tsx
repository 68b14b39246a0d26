import { lazy } from 'react';
import { OpensLater } from '../parts/OpensLater.tsx';
import { type Figure, ORIGIN_WORDS } from '../../core/quantities/figure.ts';
import { figureIn, sayIn } from '../../core/quantities/shopUnits.ts';
import { useRules } from '../line/queries.ts';

const ORIGIN_MARK = { maker: '●', house: '◆', default: '○', measured: '■', computed: '=' } as const;

const FigurePopover = lazy(async () => ({
  default: (await import('./FigurePopover.tsx')).FigurePopover,
}));

/** A number that opens to its formula, its inputs and where it came from. */
export function FigureButton({ figure }: { figure: Figure }) {
  const rules = useRules();
  const { number, unit } = figureIn(figure, rules);
  return (
    <OpensLater
      className="flex min-h-11 w-full flex-col justify-start rounded-md px-2 py-1 text-left hover:bg-hair"
      menu={(button) => <FigurePopover {...button} figure={figure} />}
    >
      <span className="label block">{sayIn(figure.label, rules)}</span>
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
