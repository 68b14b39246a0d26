import { useState } from 'react';
import type { NoteAbout } from '../../contract/asks.ts';
import type { Problem } from '../../contract/wire.ts';
import { pathTo, problemOf } from './api.ts';
import { newId } from './newId.ts';
import { notice } from './notices.ts';
import { queryClient } from './queries.ts';
import { keptBecause, outbox } from './sending.ts';
import { useSigning } from './signing.tsx';

export interface NoteSender {
  /** Both resolve to whether it was taken, or is kept here to be sent. */
  write(text: string, about: NoteAbout): Promise<boolean>;
  takeBack(noteId: string, why: string): Promise<boolean>;
  problem: Problem | null;
}

/** Writes notes on a battery, kept here until the server has them. */
export function useNoteSender(tag: string): NoteSender {
  const { sign } = useSigning();
  const [problem, setProblem] = useState<Problem | null>(null);
  const send = async (path: string, fields: Record<string, unknown>, what: string) => {
    const by = await sign();
    if (!by) return false;
    setProblem(null);
    try {
      await outbox.send({ path, body: { commandId: newId(), by, ...fields }, what });
    } catch (error) {
      const kept = keptBecause(error);
      if (!kept) {
        setProblem(problemOf(error));
        return false;
      }
      notice.warning(kept);
    }
    await queryClient.invalidateQueries({ queryKey: ['notes'] });
    return true;
  };
  return {
    problem,
    write: (text, about) =>
      send(
        pathTo('addNote', { params: { tag } }),
        { text, ...about },
        `${tag}: note “${text.slice(0, 40)}”`,
      ),
    takeBack: (noteId, why) =>
      send(pathTo('takeBackNote', { params: { id: noteId } }), { why }, 'a note taken back'),
  };
}
