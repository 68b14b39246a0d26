import { expose } from 'comlink';
import {
  type Diagnosis,
  type DiagnosisQuestion,
  DiagnosisRun,
} from '../../core/diagnosis/diagnose.ts';
import { breathe, SLICE_MS } from './breathe.ts';

let turn = 0;
let last: DiagnosisRun | null = null;

/** The one reading that a question has more than the run that answered before; null where more has changed. */
function oneMore(
  before: DiagnosisRun | null,
  question: DiagnosisQuestion,
): DiagnosisQuestion['evidence'][number] | null {
  if (!before || question.evidence.length !== before.question.evidence.length + 1) return null;
  const { evidence: old, ...rest } = before.question;
  const { evidence, ...wanted } = question;
  const fresh = evidence.filter((e) => !old.some((o) => JSON.stringify(o) === JSON.stringify(e)));
  return fresh.length === 1 && JSON.stringify(rest) === JSON.stringify(wanted)
    ? (fresh[0] ?? null)
    : null;
}

const api = {
  /**
   * Answers a question: at once when only one reading is new, then a first answer, then a settled one.
   * `tell` hears each, and how far it is (0–1). Null when another question came meanwhile.
   */
  async diagnose(
    question: DiagnosisQuestion,
    tell: (progress: number, answer: Diagnosis | null) => void,
  ): Promise<Diagnosis | null> {
    turn += 1;
    const mine = turn;
    const added = oneMore(last, question);
    if (added && last) tell(0, last.add(added));
    const run = new DiagnosisRun(question, last);
    if (!added) tell(0, run.atOnce());
    const work = run.work();
    let told = performance.now();
    for (;;) {
      const began = performance.now();
      while (performance.now() - began < SLICE_MS) {
        const { done, value } = work.next();
        if (done) {
          last = run;
          return value;
        }
        // A first answer of few is not put over an answer of many that has only been weighed anew.
        if (value.diagnosis && !added) tell(value.progress, value.diagnosis);
        else if (performance.now() - told > 200) {
          told = performance.now();
          tell(value.progress, null);
        }
      }
      await breathe();
      if (turn !== mine) return null;
    }
  },

  cancel(): void {
    turn += 1;
  },
};

export type DiagnosisWorker = typeof api;
expose(api);
