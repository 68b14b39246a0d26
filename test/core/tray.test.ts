import { expect } from 'chai';
import type { JobCommand } from '../../src/core/job/commands.ts';
import { isForAll, keptFrom, trayWords } from '../../src/core/steps/tray.ts';
import { Driver } from '../support/battery.ts';

/** A battery at its verdict, with that rest voltage. */
function atVerdict(restV: number): Driver {
  const d = new Driver();
  d.to('ocv');
  d.send({ type: 'read', role: 'rest', values: { voltageV: restV } });
  return d.to('verdict');
}

describe('a tray stepped together', () => {
  it('shares what means the same for all, and nothing that is read or told of one', () => {
    for (const command of [
      { type: 'pauseCharge', stepId: 'charge', reason: 'x' },
      { type: 'endCharge', stepId: 'charge', reason: 'x' },
      { type: 'skip', stepId: 'x', reason: 'x' },
      { type: 'giveVerdict', stepId: 'verdict' },
    ] as const)
      expect(isForAll(command), command.type).to.equal(true);
    for (const command of [
      { type: 'read', role: 'rest', values: { voltageV: 12.7 } },
      { type: 'resumeCharge', stepId: 'charge', temperatureC: 21 },
      { type: 'topUp', liquid: 'water', cells: [1] },
      { type: 'note', text: 'x' },
    ] satisfies JobCommand[])
      expect(isForAll(command as JobCommand), command.type).to.equal(false);
  });

  it('signs a verdict only for those whose own verdict is the same', () => {
    const [good, alsoGood, flat] = [atVerdict(12.85), atVerdict(12.82), atVerdict(12.1)];
    const sign = { type: 'giveVerdict', stepId: 'verdict' } as const;
    expect(keptFrom(sign, good.job, alsoGood.job)).to.equal(null);
    expect(keptFrom(sign, good.job, flat.job)).to.match(
      /^Its own verdict is another: .+\. Sign it on its own page\.$/,
    );
    expect(keptFrom({ type: 'pause', reason: 'x' }, good.job, flat.job)).to.equal(null);
  });

  it('says beforehand what goes to all, step by step', () => {
    const d = new Driver();
    expect(trayWords(d.job)).to.equal('Every answer here goes to all of them.');
    d.to('charge');
    expect(trayWords(d.job)).to.contain('each on a place that you see first');
    d.send({ type: 'startCharge', stepId: 'charge', place: 1, setA: 1.2, setV: 14.4 });
    expect(trayWords(d.job)).to.contain('Pausing and ending go to all');
    d.to('ocv');
    expect(trayWords(d.job)).to.contain('this one alone');
    expect(trayWords(atVerdict(12.85).job)).to.contain('whose own verdict is the same');
  });
});
