import { expose } from 'comlink';
import { type ChargeLog, type LogColumns, readChargeLog } from '../../core/exchange/chargeLog.ts';
import { BATTERY_FIELDS, MODEL_FIELDS } from '../../core/exchange/imports.ts';
import { type Field, type Mapping, readTable, type ReadTable } from '../../core/exchange/table.ts';
import type { WallStyle } from '../../core/quantities/format.ts';
import { type ParsedTable, parseTable } from '../../contract/parseTable.ts';

/** Reads tables away from the page. The rows stay here; the page sees a few of them, and the result. */

export interface TableFace extends Omit<ParsedTable, 'rows'> {
  sample: string[][];
  count: number;
}

export type TableKind = 'models' | 'batteries';
export const FIELDS_OF: Record<TableKind, readonly Field[]> = {
  models: MODEL_FIELDS,
  batteries: BATTERY_FIELDS,
};

const SAMPLE = 5;
let table: ParsedTable | null = null;

/** A rejection crosses to the page as its message alone. */
const plainly =
  <A extends unknown[], R>(work: (...args: A) => R) =>
  (...args: A): { ok: true; value: R } | { ok: false; message: string } => {
    try {
      return { ok: true, value: work(...args) };
    } catch (error) {
      return { ok: false, message: (error as Error).message };
    }
  };

const api = {
  open: plainly((bytes: ArrayBuffer, mostRows: number): TableFace => {
    table = parseTable(new Uint8Array(bytes), mostRows);
    const { rows, ...face } = table;
    return { ...face, sample: rows.slice(0, SAMPLE), count: rows.length };
  }),
  read: plainly((kind: TableKind, mapping: Mapping, timeZone: string): ReadTable =>
    readTable(
      table?.rows ?? [],
      FIELDS_OF[kind],
      mapping,
      timeZone,
      kind === 'models' ? 'code' : 'tag',
    ),
  ),
  log: plainly((columns: LogColumns, wall: WallStyle): ChargeLog =>
    readChargeLog(table?.rows ?? [], columns, wall),
  ),
};

export type TableWorker = typeof api;
expose(api);
