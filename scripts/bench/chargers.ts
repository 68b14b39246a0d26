// Which charger is picked for which battery, and why not the others: every usual template against twelve batteries.
import { CHEMISTRIES } from '../../src/core/batteries/chemistry.ts';
import type { BatteryModel } from '../../src/core/batteries/model.ts';
import { stateOfChargePercent } from '../../src/core/capacity/stateOfCharge.ts';
import { procedureFor } from '../../src/core/catalogue/catalogue.ts';
import type { ShopCharger } from '../../src/core/chargers/charger.ts';
import { chargerOptions, fits, hoursOn, whatWouldDo } from '../../src/core/chargers/fit.ts';
import {
  chargerCautionWords,
  chargerFaultWords,
  hoursWords,
  settingWords,
  wouldDoWords,
} from '../../src/core/chargers/fitWords.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { jobPlan } from '../../src/core/plan/plan.ts';
import type { Purpose } from '../../src/core/plan/procedure.ts';
import { chargerNeed } from '../../src/core/recovery/chargerNeed.ts';
import { openJob } from '../../src/core/steps/openJob.ts';
import { BY_KIND, PLAIN, SIX_VOLT } from '../../test/support/battery.ts';
import { title } from './figures.ts';

const BATTERIES: readonly {
  name: string;
  model: BatteryModel;
  purpose: Purpose;
  readsV: number | null;
}[] = [
  { name: 'AGM 4 Ah, new', model: { ...PLAIN, c20Ah: 4 }, purpose: 'commission', readsV: null },
  { name: 'AGM 18 Ah, new', model: { ...PLAIN, c20Ah: 18 }, purpose: 'commission', readsV: null },
  { name: 'AGM 60 Ah, new', model: { ...PLAIN, c20Ah: 60 }, purpose: 'commission', readsV: null },
  { name: '6 V flooded, new', model: SIX_VOLT, purpose: 'commission', readsV: null },
  {
    name: 'Flooded 14 Ah, new',
    model: BY_KIND['flooded-dry'],
    purpose: 'commission',
    readsV: null,
  },
  { name: 'Gel 24 Ah', model: { ...BY_KIND.gel, c20Ah: 24 }, purpose: 'recharge', readsV: 12.4 },
  { name: 'Gel 90 Ah', model: { ...BY_KIND.gel, c20Ah: 90 }, purpose: 'recharge', readsV: 12.4 },
  {
    name: 'Flooded 60 Ah, 12.2 V',
    model: BY_KIND['flooded-sealed'],
    purpose: 'recover',
    readsV: 12.2,
  },
  {
    name: 'Flooded 60 Ah, 6.1 V',
    model: BY_KIND['flooded-sealed'],
    purpose: 'recover',
    readsV: 6.1,
  },
  {
    name: 'AGM 80 Ah, 1.4 V',
    model: { ...BY_KIND['agm-sealed'], c20Ah: 80 },
    purpose: 'recover',
    readsV: 1.4,
  },
  {
    name: 'Flooded 180 Ah, 11.9 V',
    model: { ...BY_KIND['flooded-sealed'], c20Ah: 180 },
    purpose: 'recover',
    readsV: 11.9,
  },
  {
    name: 'AGM 230 Ah, 12.5 V',
    model: { ...BY_KIND['agm-sealed'], c20Ah: 230 },
    purpose: 'recharge',
    readsV: 12.5,
  },
];

export function benchChargers(): void {
  const wall: ShopCharger[] = CHARGER_TEMPLATES.map(({ key, facts }) => ({
    ...facts,
    id: key,
    name: key,
    standingSince: 0,
  }));
  for (const { name, model, purpose, readsV } of BATTERIES) {
    const job = openJob(
      procedureFor(model.kind, purpose),
      jobPlan(model, DEFAULT_RULES, purpose),
      0,
      'ann',
    );
    const from = performance.now();
    const asked = chargerNeed(job);
    const share =
      readsV === null
        ? asked.share
        : stateOfChargePercent(readsV, asked.cells, CHEMISTRIES[asked.chemistry]) / 100;
    const need = { ...asked, readsV, share };
    const options = chargerOptions(wall, need);
    const wouldDo = whatWouldDo(options, need);
    const lines = options.map((o) => {
      const said = [...o.faults.map(chargerFaultWords), ...o.cautions.map(chargerCautionWords)];
      const hours = fits(o) ? hoursWords(hoursOn(o, need)) : '–';
      return `  ${fits(o) ? '✓' : '✕'} ${`${o.charger.name}, ${settingWords(o)}`.padEnd(44)}${hours.padEnd(14)}${said.join(' ')}`;
    });
    title(
      `${name}: ${need.plannedA.toFixed(2)} A planned, ${need.mostA.toFixed(2)} A at most (${(performance.now() - from).toFixed(0)} ms)`,
    );
    console.log(lines.join('\n'));
    if (wouldDo) console.log(`  ${wouldDoWords(wouldDo)}`);
  }
}
