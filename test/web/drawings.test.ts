import { expect } from 'chai';
import { stripLook } from '../../src/web/drawings/portState.ts';
import { hourMarks } from '../../src/web/drawings/Ribbon.tsx';
import { BY_KIND, Driver, HOUR, SIX_VOLT, START } from '../support/battery.ts';

describe('the port strip', () => {
  const lookAt = (step: string) => stripLook(new Driver().to(step).job);
  it('follows the battery from foil to sealed', () => {
    expect(
      ['identify', 'fill', 'bubbles', 'lift', 'soak', 'clear', 'rest', 'handover'].map(
        (s) => lookAt(s).cover,
      ),
    ).to.deep.equal([
      'foil',
      'foil',
      'open',
      'open',
      'strip-loose',
      'strip-loose',
      'sealed',
      'sealed',
    ]);
    expect(['identify', 'bubbles', 'soak', 'ocv'].map((s) => lookAt(s).tone)).to.deep.equal([
      'idle',
      'wet',
      'wet',
      'rested',
    ]);
  });
  it('glows only while current flows', () => {
    const d = new Driver().to('charge');
    expect(stripLook(d.job).tone).to.equal('wet');
    d.startCharge();
    expect(stripLook(d.job)).to.include({ tone: 'live', word: 'current flows' });
    d.wait(HOUR).read(14, 1.2, 53);
    expect(stripLook(d.job).tone).to.equal('stop');
  });
  it('shows torn foil on a refused battery, and as many ports as there are cells', () => {
    const d = new Driver(SIX_VOLT).to('foil');
    d.send({ type: 'answerChecks', stepId: 'foil', answers: { foil: false } });
    expect(stripLook(d.job)).to.include({ cover: 'torn-foil', tone: 'stop' });
    expect(stripLook(d.job).ports).to.have.length(3);
  });
});

describe('the port strip of a conventional battery', () => {
  const job = (step: string) => new Driver(BY_KIND['flooded-dry']).to(step).job;
  it('has caps on, ports open while it is filled, caps laid on while it charges, caps on again', () => {
    expect(
      ['identify', 'fill', 'pass', 'sg', 'rest', 'handover'].map((s) => stripLook(job(s)).cover),
    ).to.deep.equal(['caps', 'open', 'open', 'caps-loose', 'caps', 'caps']);
    const d = new Driver(BY_KIND['flooded-dry']).to('charge').startCharge();
    expect(stripLook(d.job)).to.include({ cover: 'caps-loose', tone: 'live' });
  });
  it('is dry until it is filled, and then shows the level each cell was given', () => {
    expect(stripLook(job('fill')).ports.map((p) => p.level)).to.deep.equal([0, 0, 0, 0, 0, 0]);
    const d = new Driver(BY_KIND['flooded-dry']).to('pass');
    d.send({
      type: 'answerPorts',
      stepId: 'pass',
      ports: ['over', 'mark', 'mark', 'mark', 'mark', 'mark'],
      reason: 'Seen too late',
    });
    expect(stripLook(d.job).ports.map((p) => p.level)).to.deep.equal([
      1, 0.85, 0.85, 0.85, 0.85, 0.85,
    ]);
    expect(stripLook(new Driver(BY_KIND.gel).job)).to.include({ cover: 'sealed', tone: 'idle' });
  });
});

describe('hours along a ribbon', () => {
  it('stand on whole hours, apart enough to read, and name the day at midnight', () => {
    const marks = hourMarks({ from: START, to: START + 36 * HOUR }, 720, { timeZone: 'UTC' });
    const gaps = marks.slice(1).map((m, i) => m.at - (marks[i]?.at ?? 0));
    expect(new Set(gaps).size).to.equal(1);
    expect(((gaps[0] ?? 0) / (36 * HOUR)) * 720).to.be.at.least(62);
    expect(marks.map((m) => m.label)).to.include('Wed 11');
  });

  it('keep their room over months, and name the date then', () => {
    const to = START + 80 * 24 * HOUR;
    for (const width of [340, 1128]) {
      const marks = hourMarks({ from: START, to }, width, { timeZone: 'Europe/Berlin' });
      const gaps = marks.slice(1).map((m, i) => ((m.at - marks[i]!.at) / (to - START)) * width);
      expect(Math.min(...gaps), `${width}`).to.be.at.least(61);
      expect(marks[1]?.label).to.match(/^\d+ [A-Z][a-z]{2}$/);
    }
  });

  it('hours are those of the wall, east of Greenwich and over the night the clocks change', () => {
    const from = Date.UTC(2026, 2, 27, 10, 17);
    for (const timeZone of ['Europe/Berlin', 'Europe/London', 'Asia/Kolkata', 'America/New_York']) {
      const days = hourMarks({ from, to: from + 4 * 24 * HOUR }, 400, { timeZone }).map(
        (m) => m.label,
      );
      expect(days, timeZone).to.deep.equal(['Sat 28', 'Sun 29', 'Mon 30', 'Tue 31']);
    }
    const hours = hourMarks({ from, to: from + 48 * HOUR }, 600, { timeZone: 'Europe/Berlin' }).map(
      (m) => m.label,
    );
    expect(hours).to.include.members(['Sat 28', '12:00', 'Sun 29', '18:00']);
  });
});
