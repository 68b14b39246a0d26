import type { Person } from '../../../contract/wire.ts';
import { People } from '../../inputs/People.tsx';
import type { StepProps } from './stepProps.ts';

/** Who else signs here. */
export function PeopleStep({ onNext, foot, people }: StepProps & { people: Person[] }) {
  return (
    <div className="grid gap-5">
      <div>
        <h1 className="text-4xl">Who works here?</h1>
        <p className="text-lg text-soft">
          Every reading is signed. Add the others now or when they come. You work alone? Press Next.
        </p>
      </div>
      <People people={people} />
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void onNext({});
        }}
      >
        {foot}
      </form>
    </div>
  );
}
