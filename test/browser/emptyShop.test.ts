import { expect } from 'chai';
import type { RecordWire } from '../../src/contract/wire.ts';
import { HOUR, MINUTE } from '../support/battery.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { HandWalk } from '../support/handWalk.ts';

const SIZES = [
  { name: 'a phone', viewport: { width: 390, height: 844 } },
  { name: 'a desk', viewport: { width: 1280, height: 800 } },
] as const;

/** A shop with a fixed charger of 2 and 10 A, an automatic one with lights, and a multimeter. */
for (const { name, viewport } of SIZES)
  describe(`a new shop on its own chargers, on ${name}`, () => {
    let bench: TestBench;
    let t: Technician;
    before(async () => {
      bench = await TestBench.open();
      t = await Technician.sitDown(bench, 'ann', viewport);
    });
    after(async () => {
      await t.leave();
      await bench.close();
    });

    const record = async (tag: string) =>
      (await bench.get<RecordWire>(`/api/batteries/${tag}`)).body;
    /** Adds a model as its maker prints it. */
    const addModel = async (kind: string, volts: string, texts: Record<string, string>) => {
      await t.open('/intake');
      await t.press('Add a model');
      await t.field('Kind').selectOption(kind);
      await t.field('Volts and cells').selectOption(volts);
      for (const [label, text] of Object.entries(texts))
        await t.page.getByLabel(label, { exact: true }).fill(text);
      await t.press('Add to the catalogue');
      await t.page.getByRole('dialog').waitFor({ state: 'detached' });
    };
    /** Takes in the battery whose model was just added. @returns its tag */
    const takeIn = async (job: string): Promise<string> => {
      await t.page.getByText(job, { exact: true }).click();
      const tag = await t.field('Tag').inputValue();
      await t.press('Date code not readable');
      await t.field('Customer or machine').fill('Upper hut');
      await t.press('Take it in and open the job');
      await t.page.getByRole('region', { name: 'Step in hand' }).waitFor();
      return tag;
    };
    const choose = async (charger: string) => {
      const pick = t.page.getByRole('radio', { name: new RegExp(`^${charger}`) });
      if (!(await pick.isVisible())) await t.page.getByText(/and another charger$/).click();
      await pick.check();
    };

    it('writes its two chargers down', async () => {
      await t.open('/chargers');
      for (const [template, sticker] of [
        ['Fixed 2 A and 10 A', 'Big grey'],
        ['Automatic 4 A', 'Blue'],
      ] as const) {
        await t.press('Add a charger');
        await t.page.getByRole('button', { name: template }).click();
        await t.field('Name on its sticker').fill(sticker);
        await t.press('Save charger');
        await t.page.getByRole('heading', { name: sticker }).waitFor();
      }
    });

    it('commissions an AGM battery of 18 Ah on the fixed charger, up to its ceiling', async () => {
      await addModel('agm-sealed', '12', {
        'Model code': 'S-18',
        Name: 'Alarm 18',
        'C20, Ah': '18',
      });
      const tag = await takeIn('Commission');
      const walk = new HandWalk(bench, t, tag, {
        charge: async (w, { plan }) => {
          // The automatic gives too much for so small a battery, and says so.
          await t.page.getByText(/and another charger$/).click();
          await t.sees('4 A is C/4.5 of this battery; at most 1.8 A.');
          await choose('Big grey');
          await w.tap('Current is on');
          await t.sees('Current on since');
          await t.later(HOUR);
          await w.type({ Volts: '13.61', Amps: '1.9', Temperature: '21' });
          await t.later(HOUR);
          await w.type({
            Volts: plan.figures.ceilingV.value.toFixed(2),
            Amps: '1.5',
            Temperature: '24',
          });
          await t.sees('this charger does not hold it');
          await w.tap('Charger off: end the charge');
        },
      });
      await walk.to(null);
      expect((await record(tag)).jobs.at(-1)!.state.outcome).to.equal('passed');
      console.log(`        AGM 18 Ah: ${walk.taps} taps, ${walk.keys} keys`);
    });

    it('commissions a conventional battery of 6 V, filled by hand', async () => {
      await addModel('flooded-dry', '6', {
        'Model code': 'C-6',
        Name: 'Tractor 6 V',
        'C20, Ah': '20',
      });
      const tag = await takeIn('Commission');
      const walk = new HandWalk(bench, t, tag, {
        charge: async (w) => {
          await choose('Big grey');
          await w.tap('Current is on');
          for (const volts of ['6.90', '7.62', '7.80', '7.81', '7.81']) {
            await t.later(HOUR);
            await w.type({ Volts: volts, Amps: '1.5', Temperature: '25' });
          }
          await t.sees('no longer rising');
          await w.tap('Charger off: end the charge');
        },
      });
      await walk.to(null);
      expect((await record(tag)).jobs.at(-1)!.state.outcome).to.equal('passed');
      console.log(`        conventional 6 V: ${walk.taps} taps, ${walk.keys} keys`);
    });

    it('recovers a starter battery without a label, 6.1 V: beside a donor, then on the automatic, to its sheet', async () => {
      await t.open('/intake');
      await t.page.getByText('Recover', { exact: true }).click();
      await t.press('No readable label');
      await t.page.getByText('Flooded, closed').click();
      await t.field('CCA, A').fill('520');
      await t.field('Weight, kg').fill('15');
      await t.sees(/most likely 5\d Ah, from 520 A \(EN\) and 15 kg/);
      const tag = await t.field('Tag').inputValue();
      await t.press('Take it in and open the job');
      await t.page.getByRole('region', { name: 'Step in hand' }).waitFor();
      await t.sees(/about 5\d Ah \(\d\d to \d\d, estimated\)/);

      const walk = new HandWalk(bench, t, tag, {
        story: async (w) => {
          await w.tap(/^Something was left on/);
          await w.tap('Save');
        },
        arrival: async (w) => {
          await w.type({ Volts: '6.10' });
        },
        diagnose: async (w) => {
          await t.sees(/^Settled/);
          await t.page.getByRole('radio', { name: /^Full charge/ }).click();
          await w.tap('Beside a donor');
          await t.sends(() => w.tap(/^Take this route/), 'Take it');
        },
        wake: async (w) => {
          await t.field('Donor reads').fill('12.6');
          const select = t.page.getByRole('combobox', { name: /^Charger/ });
          const charger = select.locator('option', { hasText: 'Big grey' });
          await select.selectOption({ label: (await charger.textContent())! });
          await w.tap('Clips on, charger on');
        },
        'wake-check': async (w) => {
          await t.field('Volts now').fill('11.20');
          await w.tap(/^(Save|Save)$/);
        },
        charge: async (w) => {
          await choose('Blue');
          await t.sees('If the plates are sulfated');
          await w.tap('Current is on');
          await t.later(30 * MINUTE);
          await w.tap('Red charging');
          await t.later(15 * HOUR);
          await w.tap('Green full');
          await t.sees('Let it rest, then the voltage decides');
          await w.tap('Charger off: end the charge');
        },
        capacity: async (w, { plan }) => {
          await t.field('Its temperature').fill('20');
          await w.tap('Load is on, clock runs');
          await t.sees('On load for');
          const minutes = Math.round(
            (60 * 0.85 * plan.model.c20Ah) / plan.figures.testA!.value / 1.12,
          );
          await t.later(minutes * MINUTE);
          await t.field('Minutes on load').fill(String(minutes));
          await w.tap('It fell to the cut-off, load off');
        },
        refill: async (w) => {
          await choose('Blue');
          await w.tap('Current is on');
          await t.sees('Current on since');
          await t.later(16 * HOUR);
          await w.tap('Green full');
          await w.tap('Charger off: end the charge');
        },
        hold: async () => t.later(7 * 24 * HOUR + MINUTE),
        'hold-volts': async (w) => w.type({ Volts: '12.61', 'It stood at': '20' }),
        outcome: async (w) => w.tap(/^Sign: /),
      });
      await walk.to(null);
      const { jobs } = await record(tag);
      expect(jobs.at(-1)!.state.status).to.equal('closed');
      await t.open(`/jobs/${jobs.at(-1)!.id}/sheet`);
      await t.sees(/about \d\d Ah \(\d\d to \d\d, estimated\)/);
      await t.sees(/Ah in \(estimated: the charger shows no current\)/);
      console.log(`        without a label: ${walk.taps} taps, ${walk.keys} keys`);
      expect(t.complaints).to.deep.equal([]);
    });
  });
