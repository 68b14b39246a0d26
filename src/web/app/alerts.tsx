import { type AlertSettings, ring } from './ring.ts';
import { Bell, BellOff } from 'lucide-react';
import { lazy, useEffect, useRef, useState } from 'react';
import { device } from '../line/device.ts';
import type { PlanAlert } from '../../core/dayplan/planAlerts.ts';
import { OpensLater } from '../parts/OpensLater.tsx';

const KEY = 'cork-ember.alerts';

const QUIET: AlertSettings = { sound: false, browser: false, tells: 'all' };

function kept(): AlertSettings {
  try {
    return {
      ...QUIET,
      ...(JSON.parse(device.getItem(KEY) ?? '{}') as Partial<AlertSettings>),
    };
  } catch {
    return QUIET;
  }
}

/** A notification names so many at once. */
const MOST_NAMED = 4;

const namedOf = (alerts: readonly PlanAlert[]): string =>
  [
    ...alerts.slice(0, MOST_NAMED).map((a) => a.says),
    ...(alerts.length > MOST_NAMED ? [`and ${alerts.length - MOST_NAMED} more`] : []),
  ].join('\n');

/** Tells of what has come up since the last look; null while nothing is known yet. */
export function useAlerts(alerts: readonly PlanAlert[] | null, settings: AlertSettings): void {
  const known = useRef<Set<string> | null>(null);
  const now =
    alerts
      ?.map((a) => a.key)
      .sort()
      .join('\n') ?? null;
  // Another choice of what is told begins anew: what stands there already is no news.
  useEffect(() => {
    known.current = null;
  }, [settings.tells]);
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
      new Notification('Something to do', {
        body: namedOf((alerts ?? []).filter((a) => fresh.includes(a.key))),
        tag: 'cork-ember-hands',
      });
    // oxlint-disable-next-line react/exhaustive-deps -- what is due decides, not how it is worded
  }, [now, settings.sound, settings.browser, settings.tells]);
}

export function useAlertSettings(): [AlertSettings, (next: AlertSettings) => void] {
  const [settings, setSettings] = useState(kept);
  return [
    settings,
    (next) => {
      device.setItem(KEY, JSON.stringify(next));
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
