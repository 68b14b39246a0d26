import { DropdownMenu } from 'radix-ui';
import { CLOCK_RATES } from '../../contract/wire.ts';
import { ask } from '../line/api.ts';
import { benchClock, useClockSettings } from '../line/benchClock.ts';
import type { LateMenuProps } from '../parts/OpensLater.tsx';

/** The demo clock's speeds. Opens with its first appearance. */
export function ClockMenu({ className, label, children }: LateMenuProps) {
  const { rate } = useClockSettings();
  const setRate = async (next: number) =>
    benchClock.set(await ask('setRate', { body: { rate: next } }));
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger className={className} aria-label={label}>
        {children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className="z-50 w-64 rounded-lg border border-ink bg-sheet p-2"
        >
          <DropdownMenu.RadioGroup
            value={String(rate)}
            onValueChange={(v) => void setRate(Number(v))}
          >
            {CLOCK_RATES.map((r) => (
              <DropdownMenu.RadioItem
                key={r}
                value={String(r)}
                className="flex min-h-11 cursor-pointer items-center gap-3 rounded-md px-3 text-lg data-highlighted:bg-hair data-[state=checked]:font-semibold"
              >
                <span className="w-12 font-label">×{r}</span>
                <span className="text-soft">
                  {r === 1 ? 'as it is' : r === 60 ? 'a minute a second' : '10 min a second'}
                </span>
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
