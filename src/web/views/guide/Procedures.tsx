import { EXAMPLES } from '../../../core/catalogue/examples.ts';
import { procedureFor } from '../../../core/catalogue/catalogue.ts';
import type { ProcedurePage } from '../../../core/guide/procedures.ts';
import type { HouseRules } from '../../../core/house/rules.ts';
import { jobPlan } from '../../../core/plan/plan.ts';
import { fillText } from '../../../core/plan/words.ts';
import { StepDrawing } from '../../drawings/StepDrawing.tsx';

/** A page with its steps as they stand in the catalogue, in the shop's own figures for an example battery. */
export interface ExplainedProcedure extends ProcedurePage {
  steps: {
    id: string;
    kind: ReturnType<typeof procedureFor>['steps'][number]['kind'];
    title: string;
    detail: string;
  }[];
}

export function explained(page: ProcedurePage, rules: HouseRules): ExplainedProcedure {
  const plan = jobPlan(EXAMPLES[page.kind], rules, page.purpose);
  const { steps } = procedureFor(page.kind, page.purpose);
  return {
    ...page,
    steps: steps.map(({ id, kind, title, detail }) => ({
      id,
      kind,
      title: fillText(title, plan, rules),
      detail: fillText(detail, plan, rules),
    })),
  };
}

/** Procedures from the first step to the last: why they are so, and where people slip. */
export function Procedures({
  pages,
  open,
}: {
  pages: readonly ExplainedProcedure[];
  /** Shown whole: a word was looked for, or it is printed. */
  open: boolean;
}) {
  return (
    <section aria-label="Procedures" id="procedures" className="scroll-mt-20">
      <h2 className="border-b-2 border-ink pb-1 text-2xl">Procedures</h2>
      <p className="my-2 text-soft">
        Figures are for a 12 V, 12 Ah battery by your house rules. A job works out its own.
      </p>
      <div className="grid gap-3">
        {pages.map(({ key, title, why, slips, steps }) => (
          <details
            // Opened anew when everything is to be open, and closed again after.
            key={`${key} ${open}`}
            id={key}
            open={open}
            className="scroll-mt-20 rounded-lg border border-line bg-sheet px-4 py-3"
          >
            <summary className="min-h-11 cursor-pointer content-center font-label text-xl font-semibold">
              {title}
            </summary>
            <p className="max-w-[80ch] text-lg">{why}</p>
            <ol className="mt-3 grid gap-3">
              {steps.map((step, i) => (
                <li
                  key={step.id}
                  className="grid items-start gap-x-4 border-t border-hair pt-3 sm:grid-cols-[9rem_1fr]"
                >
                  <StepDrawing step={step} small />
                  <p className="max-w-[80ch] text-lg leading-snug">
                    <b>
                      {i + 1}. {step.title}
                      {/[?:.]$/.test(step.title) ? '' : '.'}
                    </b>{' '}
                    <span className="text-soft">{step.detail}</span>
                  </p>
                </li>
              ))}
            </ol>
            <h3 className="mt-3 text-lg font-semibold">Where people slip</h3>
            <ul className="text-lg text-soft">
              {slips.map((slip) => (
                <li key={slip}>◆ {slip}</li>
              ))}
            </ul>
          </details>
        ))}
      </div>
    </section>
  );
}
