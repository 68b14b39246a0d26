import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { AnswerClock } from '../../contract/asks.ts';
import type { MachineClock } from '../../contract/wire.ts';
import { formatDuration, formatStamp } from '../../core/quantities/format.ts';
import { DialogBack, OpenDialog } from '../parts/DialogFrame.tsx';
import { ProblemError, ask } from '../line/api.ts';
import { benchClock, useNow } from '../line/benchClock.ts';
import { newId } from '../line/newId.ts';
import { useRules } from '../line/queries.ts';
import { useSigning } from '../line/signing.tsx';

type Answer = AnswerClock['answer'];

const count = (n: number, what: 'job' | 'battery', where = ''): string =>
  n === 0 ? '' : `${n} ${n === 1 ? what : what === 'job' ? 'jobs' : 'batteries'}${where}`;

/** Asks why the machine's clock has parted from bench time, and says what each answer does. */
export function ClockQuestion({
  machine,
  onClose,
}: {
  machine: MachineClock;
  onClose: () => void;
}) {
  const now = useNow();
  const wall = useRules();
  const { sign } = useSigning();
  const [problem, setProblem] = useState<string | null>(null);
  const { aheadMs } = machine;
  const { data: ahead } = useQuery({
    queryKey: ['dated-ahead', aheadMs],
    queryFn: () => ask('datedAhead'),
    enabled: aheadMs < 0,
  });
  const moved = ahead
    ? [
        count(ahead.jobs, 'job'),
        count(ahead.batteries, 'battery'),
        count(ahead.shelf, 'battery', ' on the shelf'),
      ]
        .filter(Boolean)
        .join(', ')
    : '';
  const apart = formatDuration(Math.abs(aheadMs) / 1000);
  const said = (at: number) => formatStamp(at, wall);
  const answers: { answer: Answer; name: string; does: string }[] = [
    ...(aheadMs > 0
      ? [
          {
            answer: 'passed' as const,
            name: 'That time did pass',
            does: `The machine slept, or stood still. Waits have run on by ${apart}.`,
          },
        ]
      : []),
    {
      answer: 'put-right',
      name: 'The machine’s clock was wrong before',
      does: `It is right now, and the bench follows it. Waits and charges keep what was left of them.${moved ? ` Dated later than that, and dated anew (by a lead, where it is more than a day): ${moved}.` : ''}`,
    },
    {
      answer: 'wrong',
      name: 'The machine’s clock is wrong now',
      does: 'The bench keeps its own time. Set the machine’s clock right; then this goes away.',
    },
  ];
  const choose = async (answer: Answer) => {
    const by = await sign();
    if (!by) return;
    try {
      benchClock.set(
        await ask('answerClock', { body: { commandId: newId(), by, answer, aheadMs } }),
      );
      onClose();
    } catch (error) {
      setProblem(
        error instanceof ProblemError
          ? error.problem.message
          : 'The server does not answer. Try again.',
      );
    }
  };
  return (
    <OpenDialog
      onClose={onClose}
      title="Which clock is right?"
      description={
        <>
          The bench: {said(now)}
          <br />
          This machine: {said(now + aheadMs)}
        </>
      }
      width="max-w-xl"
    >
      <ul className="grid gap-2">
        {answers.map(({ answer, name, does }) => (
          <li key={answer}>
            <button
              type="button"
              className="act-quiet w-full justify-start! py-2! text-left"
              onClick={() => void choose(answer)}
            >
              <span>
                {name}
                <span className="block text-base leading-snug font-normal text-soft">{does}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {problem && (
        <p role="alert" className="mt-3 text-oxide">
          {problem}
        </p>
      )}
      <div className="mt-4 flex justify-end">
        <DialogBack />
      </div>
    </OpenDialog>
  );
}
