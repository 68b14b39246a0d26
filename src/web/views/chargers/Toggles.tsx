/** Several of a few; at least one stays. */
export function Toggles<T extends string | number>({
  legend,
  quiet = false,
  options,
  word,
  chosen,
  onChange,
}: {
  legend: string;
  quiet?: boolean;
  options: readonly T[];
  word: (option: T) => string;
  chosen: readonly T[];
  onChange: (chosen: T[]) => void;
}) {
  return (
    <fieldset>
      <legend className={quiet ? 'sr-only' : 'eyebrow mb-1'}>{legend}</legend>
      <div className="flex flex-wrap gap-x-4">
        {options.map((option) => {
          const on = chosen.includes(option);
          return (
            <label key={option} className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5"
                checked={on}
                disabled={on && chosen.length === 1}
                onChange={() =>
                  onChange(options.filter((o) => (o === option ? !on : chosen.includes(o))))
                }
              />
              {word(option)}
            </label>
          );
        })}
      </div>
    </fieldset>
  );
}
