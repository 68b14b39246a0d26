import { Popover } from 'radix-ui';
import { useState } from 'react';
import { type AlertSettings, ring } from './ring.ts';
import type { LateMenuProps } from '../parts/OpensLater.tsx';

interface Props extends LateMenuProps {
  settings: AlertSettings;
  onChange: (next: AlertSettings) => void;
}

const TELLS: readonly (readonly [AlertSettings['tells'], string])[] = [
  ['all', 'Everything that is due'],
  ['mine', 'What the day plan gives me, 5 minutes before, and promises in danger'],
];

/** What a screen may do when hands are due. Opens with its first appearance. */
export function AlertMenu({ className, label, children, settings, onChange }: Props) {
  const [denied, setDenied] = useState(false);
  const allow = async (wanted: boolean) => {
    if (!wanted) return onChange({ ...settings, browser: false });
    const answer =
      typeof Notification === 'undefined' ? 'denied' : await Notification.requestPermission();
    setDenied(answer !== 'granted');
    onChange({ ...settings, browser: answer === 'granted' });
  };
  return (
    <Popover.Root defaultOpen>
      <Popover.Trigger className={className} aria-label={label}>
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          className="z-50 w-80 rounded-lg border border-ink bg-sheet p-4"
        >
          <p className="eyebrow mb-1">When something is due</p>
          <p className="text-soft">The tab’s title always says so. This screen may also:</p>
          <label className="flex min-h-11 cursor-pointer items-center gap-3 text-lg">
            <input
              type="checkbox"
              className="size-6 accent-ink"
              checked={settings.sound}
              onChange={(e) => {
                onChange({ ...settings, sound: e.target.checked });
                if (e.target.checked) ring();
              }}
            />
            Ring two tones
          </label>
          <label className="flex min-h-11 cursor-pointer items-center gap-3 text-lg">
            <input
              type="checkbox"
              className="size-6 accent-ink"
              checked={settings.browser}
              onChange={(e) => void allow(e.target.checked)}
            />
            Show a notification
          </label>
          {(settings.sound || settings.browser) && (
            <fieldset className="mt-2 border-t border-line pt-2">
              <legend className="sr-only">It tells of</legend>
              {TELLS.map(([tells, words]) => (
                <label
                  key={tells}
                  className="flex min-h-11 cursor-pointer items-center gap-3 text-lg"
                >
                  <input
                    type="radio"
                    name="tells"
                    className="size-6 shrink-0 accent-ink"
                    checked={settings.tells === tells}
                    onChange={() => onChange({ ...settings, tells })}
                  />
                  {words}
                </label>
              ))}
            </fieldset>
          )}
          {denied && (
            <p className="text-oxide">
              The browser does not allow it here. Its settings for this site decide.
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
