import { Popover } from 'radix-ui';
import { type Figure, ORIGIN_WORDS } from '../../core/quantities/figure.ts';
import { figureParts, formatVolume } from '../../core/quantities/format.ts';
import type { VolumeUnit } from '../../core/quantities/quantity.ts';
import { useRules } from '../app/queries.ts';

const ORIGIN_MARK = { maker: '●', house: '◆', default: '○', measured: '■', computed: '=' } as const;

/** A figure in the shop's units: volumes may be ounces, everything else is as it is kept. */
function shownParts(figure: Figure, volumeUnit: VolumeUnit): { number: string; unit: string } {
  if (figure.unit !== 'mL' || volumeUnit === 'mL') return figureParts(figure);
  const [number = '', unit = ''] = formatVolume(figure.value, volumeUnit).split(' ');
  return { number, unit };
}

/** A number that opens to its formula, its inputs and where it came from. */
export function FigureButton({ figure }: { figure: Figure }) {
  const { volumeUnit } = useRules();
  const { number, unit } = shownParts(figure, volumeUnit);
  return (
    <Popover.Root>
      <Popover.Trigger className="flex min-h-11 w-full flex-col justify-start rounded-md px-2 py-1 text-left hover:bg-hair">
        <span className="label block">{figure.label}</span>
        <span className="font-label text-2xl leading-tight font-semibold">
          {number} {unit && <small className="text-base font-medium text-soft">{unit}</small>}
        </span>
        <span className="block text-sm text-soft">
          <span aria-hidden>{ORIGIN_MARK[figure.origin]} </span>
          {ORIGIN_WORDS[figure.origin]}
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content sideOffset={4} collisionPadding={12} className="z-50 w-80 rounded-lg border border-ink bg-sheet p-4 shadow-[0_6px_24px_#211c1733]">
          <p className="eyebrow mb-1">{figure.label}</p>
          <p className="text-lg">{figure.formula}</p>
          {figure.inputs.length > 0 && (
            <dl className="mt-3 grid grid-cols-[1fr_auto] gap-x-4 gap-y-1 border-t border-line pt-3">
              {figure.inputs.map((input) => (
                <div key={input.label} className="contents">
                  <dt className="text-soft">
                    {input.label}
                    <span className="block text-sm">{ORIGIN_WORDS[input.origin]}</span>
                  </dt>
                  <dd className="font-semibold">{input.value}</dd>
                </div>
              ))}
            </dl>
          )}
          <p className="mt-3 border-t border-line pt-3 text-[15px] text-soft">
            <b className="text-ink">{ORIGIN_WORDS[figure.origin]}.</b> {figure.source}.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
