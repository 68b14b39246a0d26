import type { OwnWay } from '../../../../core/chargers/charger.ts';
import type { JobSender } from '../../../line/sending.ts';
import { momentOfAct } from '../../../line/benchClock.ts';
import { ShowingButtons } from '../../../inputs/ShowingButtons.tsx';
import { TermLink } from '../../../parts/TermLink.tsx';

/** What a charger shows, kept at one tap. */
export function Showings({
  own,
  sender,
  last,
}: {
  own: OwnWay;
  sender: JobSender;
  /** What it showed at the last look, in words. */
  last: string | null;
}) {
  return (
    <section aria-label="What the charger shows" className="w-full">
      <h3 className="text-xl">What does the charger show?</h3>
      <p className="mb-2 text-[15px] text-soft">
        One tap is kept with the time{last ? `. Last look: ${last}` : ''}. A{' '}
        <TermLink term="green-light">green light</TermLink> is its own opinion.
      </p>
      <ShowingButtons
        own={own}
        busy={sender.busy}
        onTap={(showing) =>
          sender.send({
            type: 'read',
            role: 'light',
            values: {},
            showing,
            takenAt: momentOfAct(),
          })
        }
      />
    </section>
  );
}
