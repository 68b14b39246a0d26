import type { Measured } from '../../../contract/wire.ts';
import { instrumentAt, type InstrumentKind } from '../../../core/house/instruments.ts';
import { type Context, readRules } from '../../context.ts';
import { conflict, HttpProblem } from '../../http/problem.ts';
import type { Instruments } from '../../instruments/channel.ts';

interface Request {
  kind: Extract<InstrumentKind, 'meter' | 'hydrometer' | 'analyser' | 'scale'>;
  place: number;
  cell?: number;
}

/** One measurement from a bench instrument, of the battery on a place. Nothing is stored: the technician keeps it or not. */
export async function measureWith(context: Context, instruments: Instruments, { kind, place, cell = 1 }: Request): Promise<Measured> {
  const found = instrumentAt((await readRules(context.store)).instruments, kind, place);
  if (!found) throw conflict('No such instrument serves that place.', { place: 'None here.' });
  const client = instruments.client(found.setting);
  const read = async (question: string): Promise<number> => (await client.numbers(question, 1))[0] as number;
  try {
    switch (kind) {
      case 'meter':
        return [{ value: await read(`MEAS:VOLT? (@${place})`), unit: 'V', label: 'Volts' }];
      case 'hydrometer':
        return [{ value: await read(`MEAS:SG? (@${place},${cell})`), unit: 'SG', label: `SG of cell ${cell}` }];
      case 'scale':
        return [{ value: await read(`MEAS:MASS? (@${place})`), unit: 'g', label: 'Mass' }];
      case 'analyser':
        return [
          { value: await read(`MEAS:RES? (@${place})`), unit: 'mΩ', label: 'Resistance' },
          { value: await read(`MEAS:CCA? (@${place})`), unit: 'A', label: 'CCA (EN), estimated by conductance' },
        ];
    }
  } catch (error) {
    throw new HttpProblem(422, { code: 'forbidden', message: (error as Error).message, fields: {} });
  }
}
