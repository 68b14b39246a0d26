import { proxy, type Remote, wrap } from 'comlink';
import { startTransition, useCallback, useEffect, useRef, useState } from 'react';
import type { Diagnosis, DiagnosisQuestion } from '../../../../core/diagnosis/diagnose.ts';
import type { Experience } from '../../../../core/diagnosis/practice/experience.ts';
import { useExperience } from '../../../line/queries.ts';
import type { DiagnosisWorker } from '../../../workers/diagnosis.worker.ts';

export interface DiagnosisState {
  diagnosis: Diagnosis | null;
  /** 0–1 while it is being worked out; null when nothing runs. */
  progress: number | null;
  failed: string | null;
  cancel: () => void;
}

/** Diagnoses in a worker, anew whenever the question changes. */
export function useDiagnosis(question: DiagnosisQuestion | null): DiagnosisState {
  const worker = useRef<Remote<DiagnosisWorker> | null>(null);
  const [diagnosis, setDiagnosis] = useState<Diagnosis | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  // Equal questions are one question, however often a page is drawn.
  const asked = question && JSON.stringify(question);

  useEffect(() => {
    const raw = new Worker(new URL('../../../workers/diagnosis.worker.ts', import.meta.url), {
      type: 'module',
    });
    worker.current = wrap<DiagnosisWorker>(raw);
    return () => {
      worker.current = null;
      raw.terminate();
    };
  }, []);

  useEffect(() => {
    if (!asked) return undefined;
    let over = false;
    const tell = proxy((share: number, answer: Diagnosis | null) => {
      if (over) return;
      // An answer is a screenful: it is drawn in small pieces.
      startTransition(() => {
        setFailed(null);
        setProgress(share);
        if (answer) setDiagnosis(answer);
      });
    });
    void worker.current
      ?.diagnose(JSON.parse(asked) as DiagnosisQuestion, tell)
      .then((answer) => {
        if (over) return;
        startTransition(() => {
          if (answer) setDiagnosis(answer);
          setProgress(null);
        });
      })
      .catch((error: unknown) => {
        if (over) return;
        setFailed((error as Error).message);
        setProgress(null);
      });
    return () => {
      over = true;
    };
  }, [asked]);

  const cancel = useCallback(() => {
    void worker.current?.cancel();
    setProgress(null);
  }, []);
  return { diagnosis, progress, failed, cancel };
}

/** What the shop's own batteries have taught. Where that cannot be fetched, practice speaks alone. */
export function useLearnt(): { known: boolean; experience: Experience | null } {
  const { data, isPending } = useExperience();
  return { known: !isPending, experience: data?.experience ?? null };
}
