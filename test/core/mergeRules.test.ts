import { expect } from 'chai';
import fc from 'fast-check';
import { differences, mergeChanges, withValue } from '../../src/core/house/mergeRules.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';

describe('rules that two people change at once', () => {
  const base = DEFAULT_RULES;

  it('keep what each of them set, where the other left it alone', () => {
    const theirs = { ...base, places: 12, schools: { ...base.schools, wake: 'other' as never } };
    const mine = { ...base, roomC: 15 };
    expect(mergeChanges(base, theirs, mine)).to.deep.equal({
      merged: { ...theirs, roomC: 15 },
      clashes: [],
    });
  });

  it('name what both set to different things, with both texts; mine stands until somebody chooses', () => {
    const { merged, clashes } = mergeChanges(
      base,
      { ...base, places: 12, roomC: 18 },
      { ...base, places: 10, roomC: 18 },
    );
    expect(clashes).to.deep.equal([{ path: 'places', theirs: 12, mine: 10 }]);
    expect(merged.places).to.equal(10);
    expect(withValue(merged, 'places', 12)).to.deep.equal({ ...base, places: 12, roomC: 18 });
    expect(differences(base, merged)).to.deep.equal(
      [
        { path: 'roomC', before: base.roomC, after: 18 },
        { path: 'places', before: base.places, after: 10 },
      ].sort((a, b) => Object.keys(base).indexOf(a.path) - Object.keys(base).indexOf(b.path)),
    );
  });

  it('come to the same whoever is first, save for what both set', () => {
    const text = fc.record({
      a: fc.integer({ min: 0, max: 3 }),
      b: fc.record({
        c: fc.integer({ min: 0, max: 3 }),
        d: fc.array(fc.integer({ min: 0, max: 2 }), { maxLength: 2 }),
      }),
    });
    fc.assert(
      fc.property(text, text, text, (was, one, other) => {
        const [a, b] = [mergeChanges(was, one, other), mergeChanges(was, other, one)];
        expect(a.clashes.map((c) => c.path).sort()).to.deep.equal(
          b.clashes.map((c) => c.path).sort(),
        );
        const settled = a.clashes.reduce(
          (merged, c) => withValue(merged, c.path, c.theirs),
          a.merged,
        );
        expect(settled).to.deep.equal(b.merged);
      }),
    );
  });
});
