import { CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import type { PlanBattery } from '../charging/fitPlan.ts';
import { MOST_C } from '../charging/limits.ts';
import { type Condition, makeBattery } from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { behaviourOf } from './behaviour.ts';
import type { ShopCharger } from './charger.ts';
import { type ChargerCourse, chargerCourse, switchOff } from './course.ts';
import { chargerOptions } from './fit.ts';
import { chargerFaultWords, settingWords } from './fitWords.ts';

/** A usual charge of a battery that is not known better, share of C20 per hour. */
const USUAL_C = 0.1;

/** What one charger of the shop does with a described battery by itself. */
export interface ShopCourse {
  id: string;
  name: string;
  set: string;
  /** Why it is not for this battery, as sentences. */
  faults: string[];
  course: Omit<ChargerCourse, 'trace'>;
}

/**
 * Every charger of the shop that does something by itself, as it would best be set, on a described battery.
 *
 * @param ambientC °C
 */
export function shopCourses(
  chargers: readonly ShopCharger[],
  battery: PlanBattery,
  condition: Condition,
  ambientC: number,
): ShopCourse[] {
  const ceilingV = forCells(CHEMISTRIES[battery.chemistry].absorptionV[1], battery.cells);
  const need = {
    nominalV: 2 * battery.cells,
    cells: battery.cells,
    chemistry: battery.chemistry,
    c20Ah: battery.c20Ah,
    plannedA: USUAL_C * battery.c20Ah,
    mostA: MOST_C * battery.c20Ah,
    ceilingV,
    readsV: null,
    battery,
    share: condition.charge,
    roomC: ambientC,
    sizeSpan: { low: 1, high: 1 },
    perhapsSulfated: false,
    supplyHours: () => 0,
  };
  const ready = chargers.filter((c) => c.range === null && c.standing === 'ready');
  return chargerOptions(ready, need).flatMap((option) => {
    const { charger, setting, program, faults } = option;
    const behaviour = behaviourOf(charger.kind, setting, program, battery);
    if (!behaviour || faults.some((f) => f.kind === 'volts' || f.kind === 'family')) return [];
    const twin = makeBattery(DESIGNS[battery.chemistry], battery, condition, ambientC);
    const { trace: _, ...course } = chargerCourse(behaviour, twin, switchOff(battery, ceilingV));
    return [
      {
        id: charger.id,
        name: charger.name,
        set: settingWords(option),
        faults: faults.map(chargerFaultWords),
        course,
      },
    ];
  });
}
