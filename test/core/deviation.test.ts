import { expect } from 'chai';
import type { DeviationWhat } from '../../src/core/job/deviation.ts';
import { deviationWords } from '../../src/core/job/deviationWords.ts';
import { recoverySummary } from '../../src/core/sets/recoverySummary.ts';
import { candidateOf } from '../../src/core/sets/candidates.ts';
import { DEFAULT_RULES } from '../../src/core/house/rules.ts';
import { BY_KIND, deviationsOf, Driver, MINUTE, START } from '../support/battery.ts';

describe('what was done otherwise than planned', () => {
  const WORDS: readonly [DeviationWhat, string, string][] = [
    [{ kind: 'step-skipped' }, 'Step skipped', 'Step skipped'],
    [{ kind: 'step-reopened' }, 'Step reopened', 'Step reopened'],
    [{ kind: 'wait-cut', remainingS: 3541 }, 'Wait ended 60 min early', 'Wait ended 60 min early'],
    [
      { kind: 'temperature', label: 'Acid', temperatureC: 8, lowC: 16, highC: 30 },
      'Acid at 8 °C, outside 16 °C to 30 °C',
      'Acid at 46 °F, outside 61 °F to 86 °F',
    ],
    [
      { kind: 'acid', sg25: 1.2512, readSg: 1.256, readC: 18, wantedSg: 1.265 },
      'SG 1.251 at 25 °C (read 1.256 at 18 °C); 1.265 is wanted',
      'SG 1.251 at 77 °F (read 1.256 at 64 °F); 1.265 is wanted',
    ],
    [
      { kind: 'ports', answer: 'Filled over the upper mark', cells: [2, 5] },
      'Filled over the upper mark in cells 2 and 5',
      'Filled over the upper mark in cells 2 and 5',
    ],
    [
      { kind: 'still-topped-up', pass: 3, cells: [4] },
      'Still topped up in pass 3: cell 4',
      'Still topped up in pass 3: cell 4',
    ],
    [
      { kind: 'ceiling', setV: 15.2, plannedV: 14.5 },
      'Ceiling of 15.20 V instead of 14.50 V',
      'Ceiling of 15.20 V instead of 14.50 V',
    ],
    [
      { kind: 'current', setA: 3, plannedA: 1.2 },
      'Charged at 3.0 A instead of 1.2 A',
      'Charged at 3.0 A instead of 1.2 A',
    ],
    [
      { kind: 'ended-early', sentence: 'No reading yet.' },
      'Charge ended before the numbers agreed (No reading yet.)',
      'Charge ended before the numbers agreed (No reading yet.)',
    ],
    [
      { kind: 'route', route: 'recharge' },
      'Route “Full charge” chosen by hand',
      'Route “Full charge” chosen by hand',
    ],
  ];
  for (const [what, celsius, fahrenheit] of WORDS)
    it(`${what.kind}: is a kind with its figures, worded in the shop's units`, () => {
      expect([deviationWords(what, 'C'), deviationWords(what, 'F')]).to.deep.equal([
        celsius,
        fahrenheit,
      ]);
    });

  it('keeps the text of an earlier version as it was written', () => {
    expect(deviationWords('Charged at 2.0 A instead of 1.2 A', 'F')).to.equal(
      'Charged at 2.0 A instead of 1.2 A',
    );
  });

  it('is kept with its figures in the job, not as a sentence', () => {
    const d = new Driver().to('dwell').wait(5 * MINUTE);
    d.send({ type: 'cutWait', stepId: 'dwell', reason: 'It must go out' });
    expect(d.job.state.deviations[0]?.what).to.deep.equal({
      kind: 'wait-cut',
      remainingS: 25 * 60,
    });
    expect(deviationsOf(d)).to.deep.equal(['Wait ended 25 min early']);
  });
});

describe('what an ended recovery is summed up to', () => {
  const recovered = (outcome: 'return' | 'recycle'): Driver => {
    const d = new Driver(BY_KIND['agm-sealed'], DEFAULT_RULES, 'recover').to('outcome');
    d.send({ type: 'giveOutcome', stepId: 'outcome', outcome, reason: 'By its numbers' });
    if (outcome === 'return')
      d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
    return d;
  };

  it('is its cycles, and what a set is matched by; its age follows from the day it is asked', () => {
    const { results, member } = recoverySummary(recovered('return').job);
    expect(results.map((r) => [r.cycle, r.route, r.outcome, r.last])).to.deep.equal([
      [1, 'recharge', 'return', true],
    ]);
    expect(member?.capacityAh).to.be.within(6, 13);
    expect(JSON.parse(JSON.stringify({ results, member }))).to.deep.equal({ results, member });
    const now = candidateOf(member!, 'T-001', '2024-03', START);
    expect(now).to.include({ tag: 'T-001', modelCode: 'T-S12' });
    expect(now.ageYears).to.be.closeTo(2, 0.05);
    expect(
      candidateOf(member!, 'T-001', '2024-03', START + 365.25 * 86_400_000).ageYears,
    ).to.be.closeTo(3, 0.05);
    // Without a date code its owner's word counts.
    expect(candidateOf(member!, 'T-001', 'none', START).ageYears).to.equal(3);
  });

  it('of one for the recycler holds its result and nothing to match', () => {
    const { results, member } = recoverySummary(recovered('recycle').job);
    expect(results).to.have.length(1);
    expect(member).to.equal(null);
  });

  it('of a job that recovers nothing is empty', () => {
    const d = new Driver().to('handover');
    d.send({ type: 'handOver', stepId: 'handover', destination: 'shelf' });
    expect(recoverySummary(d.job).results).to.deep.equal([]);
  });
});
