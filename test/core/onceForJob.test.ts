import { expect } from 'chai';
import { expectedChargeS } from '../../src/core/job/chargeExpected.ts';
import type { Job } from '../../src/core/job/job.ts';
import { onceForJob } from '../../src/core/job/onceForJob.ts';
import { chargerSaid } from '../../src/core/recovery/chargerLine.ts';
import { CHARGER_TEMPLATES } from '../../src/core/chargers/templates.ts';
import { Driver } from '../support/battery.ts';

describe('what is worked out once for a job', () => {
  const counted = () => {
    let times = 0;
    const work = onceForJob(({ state, plan }: Job) => {
      times += 1;
      return `${state.current?.stepId} ${plan.figures.chargeA.value}`;
    });
    return { work, times: () => times };
  };

  it('is kept for its state, whoever asks, and worked out anew when something happens', () => {
    const { work, times } = counted();
    const d = new Driver().to('dwell');
    const first = work(d.job);
    expect(work({ ...d.job })).to.equal(first);
    expect(times()).to.equal(1);
    d.send({ type: 'note', text: 'Bubbles late' });
    expect(work(d.job)).to.equal(first);
    expect(times()).to.equal(2);
  });

  it('is another for another plan of the same state', () => {
    const { work, times } = counted();
    const { job } = new Driver().to('charge');
    const { chargeA } = job.plan.figures;
    const halved = {
      ...job,
      plan: {
        ...job.plan,
        figures: { ...job.plan.figures, chargeA: { ...chargeA, value: chargeA.value / 2 } },
      },
    };
    expect(work(halved)).to.not.equal(work(job));
    expect(times()).to.equal(2);
    // An expected charge follows what its battery came with.
    expect(expectedChargeS(job)).to.equal(expectedChargeS({ ...job }));
  });
});

describe('the charger a job will want, in words', () => {
  const { job } = new Driver().to('charge');

  it('is nothing where none is written down', () => {
    expect(chargerSaid([], job)).to.equal(null);
  });

  it('is one that fits, with its setting, its hours and what to know; or what would do', () => {
    const all = CHARGER_TEMPLATES.map(({ facts, key }) => ({
      ...facts,
      id: key,
      name: key,
      standingSince: 0,
    }));
    const said = chargerSaid(all, job);
    if (!said || !('name' in said)) throw new Error('One of every kind holds one that fits.');
    expect(all.map((c) => c.name)).to.include(said.name);
    expect(said.set).to.match(/\d/);
    expect(said.hours).to.match(/ h\b/);
    expect(said.others).to.be.greaterThan(0);

    // Nothing on this wall gives its volts.
    const six = all
      .filter(({ settings }) => settings.length > 0)
      .map((charger) => ({ ...charger, volts: [6] as const }));
    expect(six).to.not.be.empty;
    const lacking = chargerSaid(six, job);
    expect(lacking).to.have.keys('wouldDo');
  });
});
