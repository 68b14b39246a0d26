import type { Measured } from '../../../contract/chargeWire.ts';
import type { MeasureWith } from '../../../contract/asks.ts';
import { instrumentAt } from '../../../core/house/instruments.ts';
import { type Context, readRules } from '../../context.ts';
import { conflict, HttpProblem } from '../../http/problem.ts';
import type { Instruments } from '../../instruments/channel.ts';

/** One measurement from a bench instrument, of the battery on a place. Nothing is stored: the technician keeps it or not. */
export async function measureWith(
  context: Context,
  instruments: Instruments,
  { kind, place, cell = 1 }: MeasureWith,
): Promise<Measured> {
  const found = instrumentAt((await readRules(context.store)).instruments, kind, place);
  if (!found) throw conflict('No such instrument serves that place.', { place: 'None here.' });
  const { setting, output } = found;
  const client = instruments.client(setting);
  const read = async (question: string): Promise<number> =>
    (await client.numbers(question, 1))[0] as number;
  try {
    switch (kind) {
      case 'meter':
        return {
          voltageV: await read(`MEAS:VOLT? (@${output})`),
          temperatureC: await read(`MEAS:TEMP? (@${output})`),
        };
      case 'hydrometer':
        return { specificGravity: await read(`MEAS:SG? (@${output},${cell})`) };
      case 'scale':
        return { massG: await read(`MEAS:MASS? (@${output})`) };
      case 'analyser':
        return {
          resistanceMilliohm: await read(`MEAS:RES? (@${output})`),
          ccaA: await read(`MEAS:CCA? (@${output})`),
        };
    }
  } catch (error) {
    throw new HttpProblem(422, {
      code: 'forbidden',
      message: (error as Error).message,
      fields: {},
    });
  }
}
