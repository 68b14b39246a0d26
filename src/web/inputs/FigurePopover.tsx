import { sayAllIn } from '../../core/quantities/shopUnits.ts';
import { useRules } from '../line/queries.ts';
import { Popover } from 'radix-ui';
import { type Figure, ORIGIN_WORDS } from '../../core/quantities/figure.ts';
import type { LateMenuProps } from '../parts/OpensLater.tsx';

/** A number's formula, its inputs and where it came from. Opens with its first appearance. */
export function FigurePopover({
  className,
  children,
  figure: kept,
}: LateMenuProps & { figure: Figure }) {
  const figure = sayAllIn(kept, useRules());
  return (
    <Popover.Root defaultOpen>
      <Popover.Trigger className={className}>{children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={12}
          className="z-50 w-80 rounded-lg border border-ink bg-sheet p-4 shadow-[0_6px_24px_#211c1733]"
        >
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
