import { expect } from 'chai';
import { openBetween, presenceOf } from '../../src/core/house/presence.ts';
import { DEFAULT_RULES, type HouseRules } from '../../src/core/house/rules.ts';
import { momentOfWallTime, wallTimeOf } from '../../src/core/quantities/zonedTime.ts';

const BERLIN = 'Europe/Berlin';
const rules = (changed: Partial<HouseRules> = {}): HouseRules => ({
  ...DEFAULT_RULES,
  timeZone: BERLIN,
  hours: { from: 8 * 60, to: 18 * 60, days: [true, true, true, true, true, false, false] },
  ...changed,
});
const onWall = (text: string): number => momentOfWallTime(text, BERLIN) as number;
const told = (stretches: readonly { from: number; to: number }[]): string[] =>
  stretches.map((s) => `${wallTimeOf(s.from, BERLIN)} ${wallTimeOf(s.to, BERLIN).slice(11)}`);

describe('who is there when', () => {
  it('is the shop’s hours where nobody says otherwise, from now on, and no day that is closed', () => {
    // Thursday afternoon to Monday evening; the Monday is a holiday.
    const closed = rules({ closedOn: ['2026-03-16'] });
    expect(
      told(openBetween(closed, onWall('2026-03-12T14:05'), onWall('2026-03-17T12:00'))),
    ).to.deep.equal(['2026-03-12T14:05 18:00', '2026-03-13T08:00 18:00', '2026-03-17T08:00 12:00']);
    expect(
      told(presenceOf('ann', closed, onWall('2026-03-13T00:00'), onWall('2026-03-14T00:00'))),
    ).to.deep.equal(['2026-03-13T08:00 18:00']);
  });

  it('is a person’s own hours, without the break and without the days away', () => {
    const own = rules({
      personHours: [
        {
          personId: 'ann',
          from: 11 * 60,
          to: 20 * 60,
          days: [false, true, true, true, false, true, false],
          breakFrom: 14 * 60,
          breakMinutes: 45,
        },
      ],
      absences: [{ personId: 'ann', from: '2026-03-11', to: '2026-03-12' }],
    });
    expect(
      told(presenceOf('ann', own, onWall('2026-03-10T00:00'), onWall('2026-03-16T00:00'))),
    ).to.deep.equal([
      '2026-03-10T11:00 14:00',
      '2026-03-10T14:45 20:00',
      '2026-03-14T11:00 14:00',
      '2026-03-14T14:45 20:00',
    ]);
    // In the middle of the break.
    expect(
      told(presenceOf('ann', own, onWall('2026-03-10T14:20'), onWall('2026-03-10T15:00'))),
    ).to.deep.equal(['2026-03-10T14:45 15:00']);
  });

  it('goes by the clock on the wall in the nights that have 23 and 25 hours', () => {
    for (const day of ['2026-03-29', '2026-10-25']) {
      const always = rules({ hours: { from: 60, to: 5 * 60, days: Array(7).fill(true) } });
      const [night] = presenceOf('ann', always, onWall(`${day}T00:00`), onWall(`${day}T12:00`));
      expect(told([night!])).to.deep.equal([`${day}T01:00 05:00`]);
      expect((night!.to - night!.from) / 3_600_000, day).to.equal(day === '2026-03-29' ? 3 : 5);
    }
  });

  it('is always, in a shop that has not said its days', () => {
    const unsaid = rules({ hours: { from: 480, to: 1080, days: Array(7).fill(false) } });
    const [from, to] = [onWall('2026-03-10T03:00'), onWall('2026-03-12T03:00')];
    const stretches = openBetween(unsaid, from, to);
    expect(stretches.reduce((sum, s) => sum + s.to - s.from, 0)).to.equal(to - from);
  });
});
