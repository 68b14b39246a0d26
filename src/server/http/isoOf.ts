/** A moment as files and tables tell it, ISO 8601 in UTC. */
export const isoOf = (at: number): string => new Date(at).toISOString();
