import type { CellValues, ReadingRole, ReadingValues } from '../../core/job/reading.ts';
import { momentOfAct } from './benchClock.ts';
import type { JobSender } from './sending.ts';

/**
 * What a form of readings does with them: sends them as taken at this moment.
 *
 * @param onKept what happens once they are kept
 * @param more what is said of the reading besides
 * @returns a function that resolves to whether they were
 */
export const sendReading =
  (sender: JobSender, role: ReadingRole, onKept?: () => void, more: { fresh?: boolean } = {}) =>
  async (
    values: ReadingValues,
    sure: boolean,
    cells?: CellValues[],
    id?: string,
  ): Promise<boolean> => {
    const taken = cells ? { values, cells } : { values };
    const kept = await sender.send(
      { type: 'read', role, ...taken, ...more, takenAt: momentOfAct(), sure },
      id,
    );
    if (kept) onKept?.();
    return kept;
  };
