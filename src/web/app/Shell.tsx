import {
  BookOpen,
  CalendarClock,
  ChartSpline,
  Droplets,
  GraduationCap,
  Inbox,
  LifeBuoy,
  LayoutList,
  PlugZap,
  Rows3,
  ScrollText,
  Search,
} from 'lucide-react';
import { lazy, Suspense, useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import type { Urgency } from '../../core/job/hand.ts';
import {
  formatClock,
  formatDay,
  formatWeekday,
  type WallStyle,
} from '../../core/quantities/format.ts';
import { type PlanAlert, planAlerts } from '../../core/dayplan/planAlerts.ts';
import { ventilationNeed } from '../../core/safety/ventilation.ts';
import { Failure } from '../parts/Failure.tsx';
import { SkipLink } from '../parts/SkipLink.tsx';
import { RibbonTextures } from '../drawings/Ribbon.tsx';
import { AlertBell, useAlerts, useAlertSettings } from './alerts.tsx';
import { chargingBatteries } from '../line/bench.ts';
import { benchAhead, useBenchMoment } from '../line/benchItems.ts';
import { useClockSettings, useNow } from '../line/benchClock.ts';
import type { EarlyWords } from './Find.tsx';
import { addressOfScan } from '../line/openTag.ts';
import { Item, OpensLater } from '../parts/OpensLater.tsx';
import { followChanges } from '../line/following.ts';
import { useDayPlan, useRules, useShop } from '../line/queries.ts';
import { useScanner } from './scanning.ts';
import type { AlertSettings } from './ring.ts';
import { whenIdle } from '../line/whenIdle.ts';
import { SignInGate } from './SignInGate.tsx';
import { Initials } from '../parts/Initials.tsx';
import { SigningProvider, useSigning } from '../line/signing.tsx';
import {
  KeptBanners,
  ClockBanner,
  FileBanners,
  NewVersionBanner,
  OfflineBanner,
  FETCH_AHEAD_MS,
} from './Banners.tsx';
import { ScanButton } from '../parts/ScanButton.tsx';
import { notice } from '../line/notices.ts';
import { normaliseTag } from '../../core/batteries/tag.ts';

/** A phone has room for seven; what is for a desk is found by search there. */
const PLACES: readonly {
  to: string;
  name: string;
  short?: string;
  icon: typeof Inbox;
  desk?: true;
}[] = [
  { to: '/', name: 'Bench', icon: LayoutList },
  { to: '/intake', name: 'Intake', icon: Inbox },
  { to: '/plan', name: 'Day plan', short: 'Plan', icon: CalendarClock },
  { to: '/chargers', name: 'Chargers', icon: PlugZap },
  { to: '/shelf', name: 'Shelf', icon: Rows3 },
  { to: '/wet-room', name: 'Wet room', icon: Droplets },
  { to: '/rehearsal', name: 'Rehearsal', icon: ChartSpline, desk: true },
  { to: '/records', name: 'Records', icon: BookOpen },
  { to: '/guide', name: 'Field guide', icon: LifeBuoy, desk: true },
  { to: '/drill', name: 'Drill', icon: GraduationCap, desk: true },
  { to: '/rules', name: 'House rules', icon: ScrollText, desk: true },
];
const find = () => import('./Find.tsx');
const shortcuts = () => import('./Shortcuts.tsx');
const clockMenu = () => import('./ClockMenu.tsx');
const Find = lazy(async () => ({ default: (await find()).Find }));
const Shortcuts = lazy(async () => ({ default: (await shortcuts()).Shortcuts }));
const ClockMenu = lazy(async () => ({ default: (await clockMenu()).ClockMenu }));
whenIdle(() => {
  const menus = [
    find(),
    shortcuts(),
    clockMenu(),
    import('./AlertMenu.tsx'),
    import('../parts/WhoDialog.tsx'),
    import('../parts/NoticeArea.tsx'),
  ];
  void Promise.all(menus).catch(() => undefined);
}, FETCH_AHEAD_MS);

/** The frame around every view: bench clock, hydrogen and places above, the places of the application beside. */
export function Shell() {
  return (
    <SignInGate>
      <SigningProvider>
        <Frame />
      </SigningProvider>
    </SignInGate>
  );
}

function Frame() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const [finding, setFinding] = useState(false);
  const early = useRef<EarlyWords | null>(null);
  const [helping, setHelping] = useState(false);
  const [live, setLive] = useState(true);
  const [alerts, setAlerts] = useAlertSettings();
  useEffect(() => followChanges(setLive), []);
  const openTag = useCallback(
    (tag: string) => {
      setFinding(false);
      void addressOfScan(tag).then((to) => navigate(to));
    },
    [navigate],
  );
  useScanner(openTag);
  const openScanned = (code: string) => {
    const tag = normaliseTag(code);
    if (tag) openTag(tag);
    else notice.error(`“${code.slice(0, 40)}” is no tag of this shop.`);
  };
  // Heard from the moment the page is drawn: what is typed at once is not lost.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const inField =
        event.target instanceof HTMLElement &&
        event.target.closest('input, textarea, select, [role=dialog]');
      if (inField || event.ctrlKey || event.metaKey || event.altKey) return;
      if (early.current && event.key.length === 1) {
        // The search is still on its way; what is typed meanwhile is not lost.
        event.preventDefault();
        early.current.words += event.key;
      } else if (early.current && event.key === 'Enter') early.current.entered = true;
      else if (event.key === '/') {
        event.preventDefault();
        early.current = { words: '', entered: false };
        setFinding(true);
      } else if (event.key === '?') setHelping(true);
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);

  return (
    <div className="grid min-h-dvh grid-cols-[minmax(0,1fr)] grid-rows-[auto_1fr] md:grid-cols-[104px_minmax(0,1fr)] print:block">
      <SkipLink />
      <RibbonTextures />
      <header className="no-print sticky top-0 z-30 col-span-full flex h-15 items-center gap-1.5 border-b border-line bg-sheet px-2 sm:gap-6 sm:px-3 md:px-5">
        <NavLink to="/" className="flex items-center gap-2.5" aria-label="Cork Ember, to the bench">
          <img src="/mark.svg" alt="" width="32" height="32" />
          <span className="hidden font-label text-2xl font-semibold lg:block">Cork Ember</span>
        </NavLink>
        <TopStrip alerts={alerts} />
        <button
          type="button"
          onClick={() => setFinding(true)}
          className="ml-auto flex min-h-11 items-center gap-2 rounded-md border border-soft bg-white px-3 text-soft lg:w-52"
        >
          <Search size={18} aria-hidden />
          <span className="hidden flex-1 text-left lg:block">Scan a tag or find</span>
          <kbd className="hidden font-sans lg:block">/</kbd>
          <span className="sr-only lg:hidden">Find</span>
        </button>
        <span className="lg:hidden">
          <ScanButton what="a tag" onCode={openScanned} className="act-quiet min-w-11 px-2.5!" />
        </span>
        <AlertBell settings={alerts} onChange={setAlerts} />
        <WhoButton />
      </header>
      <nav
        aria-label="Places"
        className="no-print z-20 border-line bg-paper max-md:fixed max-md:inset-x-0 max-md:bottom-0 max-md:flex max-md:border-t md:sticky md:top-15 md:h-[calc(100dvh-60px)] md:border-r md:pt-3"
      >
        {PLACES.map(({ to, name, short, desk, icon: Icon }) => (
          <NavLink
            key={to}
            to={to}
            end={to === '/'}
            className={({ isActive }) =>
              `${desk ? 'max-md:hidden' : ''} flex min-h-14 flex-1 flex-col items-center justify-center gap-0.5 border-transparent font-label text-base font-medium max-md:border-t-4 max-md:text-[13px] md:min-h-15 md:border-l-4 ${isActive ? 'border-ink! bg-sheet text-ink' : 'text-soft hover:bg-hair'}`
            }
          >
            <Icon size={22} aria-hidden strokeWidth={1.75} />
            {short ? (
              <>
                <span className="md:hidden">{short}</span>
                <span className="max-md:hidden">{name}</span>
              </>
            ) : (
              name
            )}
          </NavLink>
        ))}
      </nav>
      <main id="main" tabIndex={-1} className="min-w-0 outline-none max-md:pb-16">
        {!live && <OfflineBanner />}
        <NewVersionBanner />
        <FileBanners />
        <ClockBanner />
        <KeptBanners />
        <ErrorBoundary FallbackComponent={Failure} resetKeys={[pathname]}>
          <Suspense>
            <Outlet />
          </Suspense>
        </ErrorBoundary>
      </main>
      <Suspense>
        {finding && (
          <Find
            takeEarly={() => {
              const typed = early.current;
              early.current = null;
              return typed;
            }}
            onClose={() => {
              early.current = null;
              setFinding(false);
            }}
          />
        )}
        {helping && <Shortcuts onClose={() => setHelping(false)} />}
      </Suspense>
    </div>
  );
}

const DUE: Urgency[] = ['overdue', 'now'];

/** Bench clock, charging places and hydrogen, worked out from the jobs in process. */
function TopStrip({ alerts }: { alerts: ReturnType<typeof useAlertSettings>[0] }) {
  const now = useNow();
  const rules = useRules();
  const { pathname } = useLocation();
  // Away from the bench, what it counts may come a moment after the page itself.
  const [later, setLater] = useState(false);
  useEffect(() => {
    const show = () => setLater(true);
    whenIdle(() => void benchAhead().then(show, show), 1200);
  }, []);
  const bench = useBenchMoment(later || pathname === '/');
  const items = bench?.items ?? [];
  const occupied = items.filter(({ job }) => job.state.charge && job.state.charge.mode !== 'ended');
  const air = ventilationNeed(chargingBatteries(items.map(({ job }) => job)));
  const dueLines = (bench?.lines ?? []).filter((l) => DUE.includes(l.urgency));
  const due = dueLines.reduce((sum, l) => sum + l.jobs.length, 0);
  const byPlan = usePlanAlerts(alerts, now);
  const whatIsDue = dueLines.flatMap((l) =>
    l.jobs.map(({ wire }) => {
      const words = `${wire.battery.tag}: ${l.hand.title}`;
      return { key: words, says: words };
    }),
  );
  useAlerts(alerts.tells === 'mine' ? byPlan : bench && whatIsDue, alerts);
  useEffect(() => {
    document.title = due > 0 ? `(${due}) to do · Cork Ember` : 'Cork Ember';
  }, [due]);

  return (
    <div className="flex min-w-0 items-center gap-4 sm:gap-7">
      <ClockItem now={now} wall={rules} />
      <Item label="Charging places" className="hidden sm:block">
        {bench ? occupied.length : '–'} of {rules.places}{' '}
        <small className="font-medium text-soft">taken</small>
      </Item>
      <Item
        label="Air for hydrogen"
        className={air > rules.roomAirM3h ? 'text-oxide' : 'hidden sm:block'}
      >
        {bench ? air.toFixed(1) : '–'}{' '}
        <small className="font-medium text-soft">of {rules.roomAirM3h} m³/h</small>
      </Item>
    </div>
  );
}

/** What the day plan gives to whoever signs here; null where this screen is not to tell of it, or there is no plan. */
function usePlanAlerts({ sound, browser, tells }: AlertSettings, now: number): PlanAlert[] | null {
  const rules = useRules();
  const { person } = useSigning();
  const wanted = tells === 'mine' && (sound || browser);
  const { data } = useDayPlan(wanted);
  return wanted && data?.plan ? planAlerts(data.plan, person?.id ?? null, now, rules) : null;
}

function ClockItem({ now, wall }: { now: number; wall: WallStyle }) {
  const { demo, rate } = useClockSettings();
  const clock = formatClock(now, wall);
  const time = `${formatDay(now, wall)}, ${clock}`;
  // A phone has no room for the month.
  const shown = (
    <>
      <span className="sm:hidden">{`${formatWeekday(now, wall)}, ${clock}`}</span>
      <span className="max-sm:hidden">{time}</span>
    </>
  );
  if (!demo) return <Item label="Bench clock">{shown}</Item>;
  return (
    <OpensLater
      menu={(face) => <ClockMenu {...face} />}
      className="min-h-11 min-w-0 overflow-hidden rounded-md px-1 text-left hover:bg-hair"
      label={`Demo clock, ${time}, running ×${rate}. Change its speed`}
    >
      <Item label={`Demo clock ×${rate} ▾`}>{shown}</Item>
    </OpensLater>
  );
}

function WhoButton() {
  const { person, choose } = useSigning();
  const anybody = (useShop().data?.people.length ?? 1) > 0;
  // A shop that nobody works in yet asks that in its set-up.
  if (!anybody) return null;
  return (
    <button
      type="button"
      onClick={choose}
      className="flex min-h-11 min-w-11 items-center justify-center gap-2 rounded-md"
      aria-label={person ? `${person.name} signs here. Change` : 'Say who is at the bench'}
    >
      {person ? (
        <Initials person={person} />
      ) : (
        <span className="rounded-md border border-ink px-3 py-1.5 font-label text-lg font-medium whitespace-nowrap">
          <span className="sm:hidden">Who?</span>
          <span className="max-sm:hidden">Who are you?</span>
        </span>
      )}
    </button>
  );
}
