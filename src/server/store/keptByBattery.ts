import { QueryTypes } from 'sequelize';
import type { Store } from './store.ts';

/**
 * Rows about batteries that are counted over all years, read once and kept: nothing about a battery changes without an entry in the
 * log, so that only those are read again of which something has been logged since.
 */
export class KeptByBattery<Row> {
  readonly #rows = new Map<string, Row[]>();
  #everyRow: readonly Row[] = [];
  #lastSeq = -1;
  #reading: Promise<readonly Row[]> | null = null;

  /** @param read rows of these batteries, of all where none are named */
  constructor(
    private readonly store: Store,
    private readonly read: (
      batteryIds: string[] | null,
    ) => Promise<(Row & { batteryId: string })[]>,
  ) {}

  /** Every row as it is now; the same list as before where nothing has been logged since. */
  everyRow(): Promise<readonly Row[]> {
    return (this.#reading ??= this.#catchUp().finally(() => (this.#reading = null)));
  }

  async #catchUp(): Promise<readonly Row[]> {
    // Known before the rows are read: what is logged meanwhile is read again the next time.
    const lastSeq = Number((await this.store.tables.events.max('seq')) ?? 0);
    if (lastSeq === this.#lastSeq) return this.#everyRow;
    const changed = this.#lastSeq < 0 ? null : await this.#changedSince(this.#lastSeq);
    if (changed?.length !== 0) {
      for (const batteryId of changed ?? []) this.#rows.delete(batteryId);
      for (const { batteryId, ...row } of await this.read(changed)) {
        const rows = this.#rows.get(batteryId) ?? [];
        rows.push(row as unknown as Row);
        this.#rows.set(batteryId, rows);
      }
      this.#everyRow = [...this.#rows.values()].flat();
    }
    this.#lastSeq = lastSeq;
    return this.#everyRow;
  }

  async #changedSince(seq: number): Promise<string[]> {
    const rows = await this.store.sequelize.query<{ batteryId: string }>(
      'SELECT DISTINCT batteryId FROM events WHERE seq > :seq AND batteryId IS NOT NULL',
      { replacements: { seq }, type: QueryTypes.SELECT },
    );
    return rows.map((row) => row.batteryId);
  }
}
