import type { ShopCharger } from '../chargers/charger.ts';
import {
  type ChargerOption,
  chargerOptions,
  fits,
  hoursOn,
  leavesItShort,
} from '../chargers/fit.ts';
import type { HouseRules } from '../house/rules.ts';
import type { Job } from '../job/job.ts';
import { chargerNeed } from '../recovery/chargerNeed.ts';
import type { Band } from '../rehearsal/outlook.ts';
import { ventilationNeed } from '../safety/ventilation.ts';
import { chargingAir } from '../watch/chargingAir.ts';
import type { Watch, Way } from './problem.ts';
import { outputPost, placePost, type PlannedShop } from './plannedShop.ts';

/** How much sooner or later than a sound battery of its model one is full: 8 in 10. Bench experience. */
export const BATTERY_SPREAD = { low: 0.85, high: 1.3 };
/** What a charger takes from the mains for what it gives. Usual of transformers and small switched supplies. */
const EFFICIENCY = 0.75;

/** One that holds its battery, or stops, needs nobody; on any other somebody looks each hour. */
export function watchOf(
  charger: ShopCharger | undefined,
  ends: 'stops' | 'floats' | 'never' | null,
): Watch {
  if (!charger || charger.range || ends === null || ends === 'never') return 'hourly';
  return 'off';
}

export const mainsCurrent = (amps: number, volts: number, { mainsV }: HouseRules): number =>
  (amps * volts) / (EFFICIENCY * mainsV);

/** Every place and charger a job's battery may charge at, as it would be set there, and how long it takes. */
export function waysOf(job: Job, { rules, chargers }: PlannedShop): Way[] {
  const need = chargerNeed(job);
  const airM3h = ventilationNeed([chargingAir(job)]);
  const spread = (hours: Band): Band => ({
    low: 60 * hours.low * BATTERY_SPREAD.low,
    middle: 60 * hours.middle,
    high: 60 * hours.high * BATTERY_SPREAD.high,
  });
  const byHandWays = (option: ChargerOption): Way[] => {
    const minutes = spread(hoursOn(option, need));
    return Array.from({ length: option.charger.outputs }, (_, i) => ({
      postId: outputPost(option.charger.id, i + 1),
      tool: null,
      watch: watchOf(option.charger, option.program?.ends ?? null),
      minutes,
      airM3h,
      mainsA: mainsCurrent(option.amps, option.volts, rules),
      setting: settingOf(option),
    }));
  };
  const options = chargerOptions(chargers, need).filter(fits);
  const byHand = options.filter((o) => !leavesItShort(o)).flatMap(byHandWays);
  const { plannedA, ceilingV, readsV } = need;
  const itself = rules.instruments
    .filter(
      (i) =>
        i.kind === 'charger' && i.mostV >= ceilingV && (readsV === null || readsV >= i.leastStartV),
    )
    .flatMap((instrument): Way[] => {
      const amps = Math.min(plannedA, instrument.mostA);
      const middle = need.supplyHours(amps, ceilingV);
      const { low, high } = need.sizeSpan;
      const minutes = spread({ low: low * middle, middle, high: high * middle });
      return Array.from({ length: instrument.outputs }, (_, i) => ({
        postId: placePost(instrument.firstPlace + i),
        tool: null,
        watch: 'none' as const,
        minutes,
        airM3h,
        mainsA: mainsCurrent(amps, ceilingV, rules),
        setting: `${Number(amps.toFixed(1))} A`,
      }));
    });
  const ways = [...itself, ...byHand];
  return ways.length > 0 ? ways : options.flatMap(byHandWays);
}

const settingOf = ({ setting, program, amps }: ChargerOption): string =>
  [setting?.name ?? `${Number(amps.toFixed(1))} A`, program?.name].filter(Boolean).join(', ');
