import { Link } from 'react-router';
import type { HouseRules } from '../../../core/house/rules.ts';

/** What to do first in a shop that is set up. */
export function DoneStep({ rules }: { rules: HouseRules }) {
  return (
    <div className="grid gap-5">
      <div>
        <h1 className="text-4xl">{rules.shopName} is ready</h1>
        <p className="text-lg text-soft">All of it stands under House rules and Chargers.</p>
      </div>
      <div className="grid gap-4 md:grid-cols-2">
        <section className="rounded-lg border border-line bg-sheet p-5">
          <h2 className="text-2xl">Take in your first battery</h2>
          <p className="mb-4 text-lg">
            Have it in front of you. Its label tells the model; where there is none, that works too.
          </p>
          <Link to="/intake" className="act">
            Take a battery in
          </Link>
        </section>
        <section className="rounded-lg border border-line bg-sheet p-5">
          <h2 className="text-2xl">Look around the demo</h2>
          <p className="mb-4 text-lg">
            A full bench with made-up batteries, in a file of its own: nothing there touches your
            shop. On the machine this runs on, type <code>npm start -- --port 4800</code>, then open{' '}
            <a className="wordlink" href="http://127.0.0.1:4800">
              127.0.0.1:4800
            </a>
            .
          </p>
          <Link to="/guide" className="act-quiet">
            Read the field guide
          </Link>
        </section>
      </div>
    </div>
  );
}
