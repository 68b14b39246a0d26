import { sayAllIn } from '../../core/quantities/shopUnits.ts';
import { useRules } from '../line/queries.ts';
import { type QuestionKey, SCHOOLS } from '../../core/house/schools.ts';

interface Props {
  question: QuestionKey;
  chosen: string;
  onChoose: (school: string) => void;
}

/** A question on which practitioners differ: the schools side by side, what each costs, and who holds it. */
export function SchoolChoice({ question: key, chosen: school, onChoose }: Props) {
  const rules = useRules();
  return (
    <fieldset id={key} className="scroll-mt-40 border-t border-line pt-3">
      <legend className="float-left mb-2 w-full font-label text-xl font-semibold">
        {SCHOOLS[key].question}
      </legend>
      <div className="clear-both grid gap-2 md:grid-cols-3">
        {sayAllIn(SCHOOLS[key].schools, rules).map(({ id, name, plain, costs, heldBy }, i) => {
          const chosen = id === school;
          return (
            <label
              key={id}
              className={`flex cursor-pointer gap-3 rounded-lg border-2 p-3 has-focus-visible:outline-3 has-focus-visible:outline-slate ${chosen ? 'border-ink bg-sheet' : 'border-line'}`}
            >
              <input
                type="radio"
                name={key}
                className="mt-1 size-5 shrink-0 accent-ink"
                checked={chosen}
                onChange={() => onChoose(id)}
              />
              <span>
                <b className="font-label text-lg">{name}</b>
                {i === 0 && <span className="text-soft"> default</span>}
                <span className="block">{plain}</span>
                <span className="block text-[15px] text-soft">
                  <b>Costs:</b> {costs}
                </span>
                <span className="block text-[15px] text-soft">
                  <b>Used by:</b> {heldBy}
                </span>
              </span>
            </label>
          );
        })}
      </div>
    </fieldset>
  );
}
