import { expect } from 'chai';
import { expectedChargeS } from '../../src/core/job/chargeExpected.ts';
import type { Job } from '../../src/core/job/job.ts';
import { onceForJob } from '../../src/core/job/onceForJob.ts';
import { chargerOffer } from '../../src/core/recovery/chargerOffer.ts';
import { fits } from '../../src/core/chargers/fit.ts';
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
  /** One of every kind. */
  const wall = CHARGER_TEMPLATES.map(({ facts, key }) => ({
    ...facts,
    id: key,
    name: key,
    standingSince: 0,
  }));

  it('is nothing where none is written down', () => {
    expect(chargerSaid([], job)).to.equal(null);
  });

  it('is one that fits, with its setting, its hours and what to know; or what would do', () => {
    const said = chargerSaid(wall, job);
    if (!said || !('name' in said)) throw new Error('One of every kind holds one that fits.');
    expect(wall.map((c) => c.name)).to.include(said.name);
    expect(said.set).to.match(/\d/);
    expect(said.hours).to.match(/ h\b/);
    expect(said.others).to.be.greaterThan(0);

    // Nothing on this wall gives its volts.
    const six = wall
      .filter(({ settings }) => settings.length > 0)
      .map((charger) => ({ ...charger, volts: [6] as const }));
    expect(six).to.not.be.empty;
    const lacking = chargerSaid(six, job);
    expect(lacking).to.have.keys('wouldDo');
  });

  it('is offered when the charge begins, with its hours; what is busy and what lacks its volts come after, with why and without', () => {
    const { choices, wouldDo } = chargerOffer(wall, job, '2026-03-10', new Map());
    expect(choices.map(({ option }) => option.charger.id)).to.have.members(wall.map((c) => c.id));
    expect(wouldDo).to.equal(null);
    const first = choices[0]?.option.charger.id ?? '';
    expect(choices[0]?.hours).to.match(/ h\b/);
    for (const { option, hours } of choices) expect(hours === null).to.equal(!fits(option));
    // The same in words as the line that was said before: one is best, however it is asked.
    expect(chargerSaid(wall, job)).to.include({ name: first, hours: choices[0]?.hours ?? '' });

    const busy = chargerOffer(wall, job, '2026-03-10', new Map([[first, ['LK-0001']]]));
    const taken = busy.choices.find(({ option }) => option.charger.id === first);
    expect(taken?.option.faults.map(({ kind }) => kind)).to.deep.equal(['in-use']);
    expect(taken?.hours).to.equal(null);
    expect(busy.choices[0]?.option.charger.id).to.not.equal(first);

    const alone = wall.filter(({ id }) => id === first);
    const waits = chargerOffer(alone, job, '2026-03-10', new Map([[first, ['LK-0001']]]));
    expect(waits.wouldDo).to.include('LK-0001');
  });
});
