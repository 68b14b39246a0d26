import {
  type Diagnosis,
  type DiagnosisQuestion,
  DiagnosisRun,
} from '../../src/core/diagnosis/diagnose.ts';

/** The first answer that batteries have been simulated for. */
export function firstAnswer(question: DiagnosisQuestion): Diagnosis {
  const work = new DiagnosisRun(question).work();
  for (;;) {
    const { value, done } = work.next();
    const answer = done ? value : value.diagnosis;
    if (answer) return answer;
  }
}
