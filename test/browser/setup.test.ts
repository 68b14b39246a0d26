import { expect } from 'chai';
import type { Shop } from '../../src/contract/wire.ts';
import type { ShopCharger } from '../../src/core/chargers/charger.ts';
import { axeFaults } from '../support/audit.ts';
import { TestBench } from '../support/bench.ts';
import { Technician } from '../support/browser.ts';
import { strayUnits } from '../support/strayUnits.ts';

for (const [name, viewport] of [
  ['a phone', { width: 390, height: 844 }],
  ['a laptop', { width: 1280, height: 800 }],
] as const)
  describe(`the first day, on ${name}`, () => {
    let bench: TestBench;
    let t: Technician;
    before(async () => {
      bench = await TestBench.empty();
      t = await Technician.sitDown(bench, null, viewport);
    });
    after(async () => {
      await t.leave();
      await bench.close();
    });
    const shop = async () => (await bench.get<Shop>('/api/shop')).body;
    const next = () => t.page.getByRole('button', { name: 'Next', exact: true }).click();
    const page = async (title: string) => {
      await t.page.getByRole('heading', { level: 1, name: title }).waitFor();
      expect(await axeFaults(t.page), title).to.deep.equal([]);
      expect(
        await t.page.evaluate(
          'document.documentElement.scrollWidth - document.documentElement.clientWidth',
        ),
        title,
      ).to.be.at.most(0);
    };

    it('an empty shop opens on its set-up, and says what is wrong before anything is saved', async () => {
      await t.page.goto(bench.url);
      await page('Your shop');
      await t.field('Your name').fill('');
      await next();
      await t.page
        .getByRole('alert')
        .or(t.page.getByText(/is missing|Type /))
        .first()
        .waitFor();
      expect((await shop()).people).to.deep.equal([]);
    });

    it('is named, with its lead and its units', async () => {
      await t.field('Name of the shop, for papers').fill('Mill Lane Batteries');
      await t.field('Your name').fill('Runa Oakley');
      expect(await t.field('Initials').inputValue()).to.equal('RO');
      await t.field('Clock').selectOption('12h');
      await t.field('Dates').selectOption('month-first');
      await t.field('Temperatures in').selectOption('F');
      await t.field('Volumes and weights in').selectOption('oz');
      await next();
      await page('Who works here?');
      const { rules, people } = await shop();
      expect(rules).to.include({
        shopName: 'Mill Lane Batteries',
        clock: '12h',
        dateOrder: 'month-first',
        temperatureUnit: 'F',
        setUp: 'people',
      });
      expect(people.map((p) => [p.name, p.role])).to.deep.equal([['Runa Oakley', 'lead']]);
    });

    it('goes on where it stopped, after the page was closed', async () => {
      await t.field('Name').fill('Piet Sallow');
      await t.field('Initials').fill('PS');
      await t.press('Add');
      await t.page.getByRole('listitem').filter({ hasText: 'Piet Sallow' }).waitFor();
      await t.page.goto(bench.url);
      await t.sees('The bench is empty');
      await t.page.getByRole('link', { name: 'Go on with the set-up' }).click();
      await page('Who works here?');
      await next();
    });

    it('takes its chargers by count, its usual ways as they are, and its air from two openings', async () => {
      await page('Your chargers');
      await t.press('One more: Fixed 2 A and 10 A');
      await t.press('One more: Automatic 4 A, two lights');
      await t.press('One more: Automatic 4 A, two lights');
      await next();
      await page('How you work');
      const { chargers } = (await bench.get<{ chargers: ShopCharger[] }>('/api/chargers')).body;
      expect(chargers.map((c) => c.name)).to.have.members([
        'Fixed 2 A and 10 A',
        'Automatic 4 A',
        'Automatic 4 A no. 2',
      ]);
      await t.press('Change Initial charge');
      await t.page.getByRole('radio').nth(1).waitFor();
      await t.press('Close Initial charge');
      await next();
      await page('Places and air');
      await t.page.getByRole('radio', { name: /Two openings/ }).check();
      // EN IEC 62485-2: 28 cm² for each m³/h.
      await t.field('Free area of the smaller one, cm²').fill('840');
      await t.sees(/^30 m³\/h carry 83 open starter batteries/);
      await next();
      await page('Mill Lane Batteries is ready');
      const { rules } = await shop();
      expect(rules).to.include({ roomAirM3h: 30, setUp: 'done' });
    });

    it('is ready: the bench asks for the first battery, in the units that were chosen', async () => {
      await t.page.getByRole('link', { name: 'Take a battery in' }).click();
      await t.sees('The catalogue is empty');
      await t.open('/');
      await t.sees('The bench is empty');
      expect(await t.page.getByRole('link', { name: 'Go on with the set-up' }).count()).to.equal(0);
      await t.open('/rules/shop');
      expect(await t.field('Usual bench temperature, °F').inputValue()).to.equal('68');
      expect(strayUnits(await t.everyWord())).to.deep.equal([]);
      expect(t.complaints).to.deep.equal([]);
    });
  });
