/** Who signs what the clock did by itself. */
export const CLOCK = 'clock';
/** Who signs what an instrument measured, or did at the word of a guard. */
export const INSTRUMENT = 'instrument';

/** The name behind a signature. */
export function signerName(id: string, people: readonly { id: string; name: string }[]): string {
  if (id === CLOCK) return 'the clock';
  if (id === INSTRUMENT) return 'the instrument';
  return people.find((p) => p.id === id)?.name ?? id;
}
