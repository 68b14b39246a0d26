import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Problem } from '../../../contract/wire.ts';
import { SET_UP_STEPS, type HouseRules, type SetUpStep } from '../../../core/house/rules.ts';
import { problemOf } from '../../line/api.ts';
import { useShop } from '../../line/queries.ts';
import { saveRules } from '../../line/saveRules.ts';
import { useSigning } from '../../line/signing.tsx';
import { Loading, NotFetched } from '../../line/States.tsx';
import { AirStep } from './AirStep.tsx';
import { ChargersStep } from './ChargersStep.tsx';
import { DoneStep } from './DoneStep.tsx';
import { PeopleStep } from './PeopleStep.tsx';
import { SchoolsStep } from './SchoolsStep.tsx';
import { ShopStep } from './ShopStep.tsx';
import type { StepProps } from './stepProps.ts';

const NAMES: Readonly<Record<SetUpStep, string>> = {
  shop: 'Shop and units',
  people: 'People',
  chargers: 'Chargers',
  schools: 'How you work',
  air: 'Places and air',
  done: 'Ready',
};
const ASKED = SET_UP_STEPS.filter((step) => step !== 'done');

/** A new shop in five short steps. Each is saved as it is left; whoever comes back goes on where it stopped. */
export function SetUp() {
  const { data: shop, error, refetch } = useShop();
  const navigate = useNavigate();
  const { sign } = useSigning();
  const asked = useParams()['step'];
  const [problem, setProblem] = useState<Problem | null>(null);
  if (error && !shop) return <NotFetched error={error} again={() => void refetch()} />;
  if (!shop) return <Loading />;
  const { rules, people } = shop;
  const step =
    people.length === 0 ? 'shop' : (SET_UP_STEPS.find((s) => s === asked) ?? rules.setUp);
  const place = SET_UP_STEPS.indexOf(step);

  const onNext = async (changed: Partial<HouseRules>, by?: string) => {
    try {
      const lead = by ?? (await sign());
      if (!lead) return;
      const next = SET_UP_STEPS[place + 1] ?? 'done';
      const furthest = SET_UP_STEPS.indexOf(rules.setUp) > place ? rules.setUp : next;
      await saveRules({ ...changed, setUp: furthest }, lead);
      setProblem(null);
      await navigate(`/setup/${next}`);
      scrollTo(0, 0);
    } catch (failed) {
      setProblem(problemOf(failed));
    }
  };
  const foot = (
    <div className="flex flex-wrap items-center gap-4 border-t border-line pt-4">
      <button type="submit" className="act min-h-13! px-8! text-xl!">
        Next
      </button>
      {place > 0 && (
        <Link to={`/setup/${SET_UP_STEPS[place - 1]}`} className="wordlink min-h-11 content-center">
          Back
        </Link>
      )}
      {people.length > 0 && (
        <Link to="/" className="wordlink min-h-11 content-center text-soft">
          Go on later
        </Link>
      )}
      {problem && (
        <p role="alert" className="w-full text-lg text-oxide">
          {problem.message}
        </p>
      )}
    </div>
  );
  const props: StepProps = { rules, problem, onNext, foot };
  return (
    <div className="mx-auto grid max-w-5xl gap-6 p-4 md:p-8 lg:grid-cols-[13rem_minmax(0,1fr)]">
      <nav aria-label="Steps of the set-up">
        <ol className="flex gap-x-1 lg:grid lg:gap-1">
          {ASKED.map((name, i) => {
            const behind = SET_UP_STEPS.indexOf(rules.setUp) > i;
            const here = name === step;
            return (
              <li key={name} className="min-w-0 flex-1">
                <Link
                  to={`/setup/${name}`}
                  aria-current={here ? 'step' : undefined}
                  aria-disabled={!behind && !here}
                  className={`flex min-h-11 items-center gap-2 border-b-4 font-label text-lg font-semibold lg:border-b-0 lg:border-l-4 lg:px-3 ${here ? 'border-ember text-ink' : behind ? 'border-moss text-ink' : 'pointer-events-none border-line text-soft'}`}
                >
                  <span aria-hidden>{behind ? '✓' : i + 1}</span>
                  <span className="max-lg:sr-only">{NAMES[name]}</span>
                </Link>
              </li>
            );
          })}
        </ol>
      </nav>
      <div className="min-w-0">
        {step === 'shop' && <ShopStep {...props} people={people} />}
        {step === 'people' && <PeopleStep {...props} people={people} />}
        {step === 'chargers' && <ChargersStep {...props} />}
        {step === 'schools' && <SchoolsStep {...props} />}
        {step === 'air' && <AirStep {...props} />}
        {step === 'done' && <DoneStep rules={rules} />}
      </div>
    </div>
  );
}
