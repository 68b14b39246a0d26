import { type AlertSettings, ring } from './ring.ts';
import { Bell, BellOff } from 'lucide-react';
import { lazy, useEffect, useRef, useState } from 'react';
import { OpensLater } from '../parts/OpensLater.tsx';

const KEY = 'cork-ember.alerts';

function kept(): AlertSettings {
  try {
    return {
      sound: false,
      browser: false,
      ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<AlertSettings>),
    };
  } catch {
    return { sound: false, browser: false };
  }
}

/** Tells of hands that have become due since the last look. `keys` name what is due (null while it is not known), `says` puts it in words. */
export function useAlerts(
  keys: readonly string[] | null,
  says: (fresh: readonly string[]) => string,
  settings: AlertSettings,
): void {
  const known = useRef<Set<string> | null>(null);
  const now = keys?.join('\n') ?? null;
  useEffect(() => {
    if (now === null) return;
    const current = new Set(now === '' ? [] : now.split('\n'));
    const fresh = known.current ? [...current].filter((k) => !known.current?.has(k)) : [];
    known.current = current;
    if (fresh.length === 0) return;
    if (settings.sound) ring();
    if (
      settings.browser &&
      typeof Notification !== 'undefined' &&
      Notification.permission === 'granted'
    )
      new Notification('Something to do', { body: says(fresh), tag: 'cork-ember-hands' });
    // oxlint-disable-next-line react/exhaustive-deps -- what is due decides, not how it is worded
  }, [now, settings.sound, settings.browser]);
}

export function useAlertSettings(): [AlertSettings, (next: AlertSettings) => void] {
  const [settings, setSettings] = useState(kept);
  return [
    settings,
    (next) => {
      localStorage.setItem(KEY, JSON.stringify(next));
      setSettings(next);
    },
  ];
}

interface BellProps {
  settings: AlertSettings;
  onChange: (next: AlertSettings) => void;
}

const AlertMenu = lazy(async () => ({ default: (await import('./AlertMenu.tsx')).AlertMenu }));

/** The bell in the top strip: what this screen may do to be noticed. */
export function AlertBell({ settings, onChange }: BellProps) {
  const some = settings.sound || settings.browser;
  return (
    <OpensLater
      menu={(face) => <AlertMenu {...face} settings={settings} onChange={onChange} />}
      className="grid size-11 place-items-center rounded-md hover:bg-hair"
      label={some ? 'Alerts on. Change' : 'Alerts off. Change'}
    >
      {some ? (
        <Bell size={22} aria-hidden />
      ) : (
        <BellOff size={22} aria-hidden className="text-soft" />
      )}
    </OpensLater>
  );
}
