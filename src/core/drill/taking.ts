import { leadAcidKind } from '../batteries/kinds.ts';
import { LOAD_TEST_S, loadTestA } from '../capacity/loadTest.ts';
import type { CellFeel } from '../job/recoveryState.ts';
import type { CellValues } from '../job/reading.ts';
import type { Random } from '../simulation/random.ts';
import { soundOhms } from '../diagnosis/showing.ts';
import { sgAsRead } from '../electrolyte/concentration.ts';
import { labelledSize } from '../simulation/labelled.ts';
import { missingWaterG, viewCell } from '../simulation/view.ts';
import type { Shown, TakeKind } from './acts.ts';
import type { DrillCase } from './case.ts';
import type { World } from './world.ts';

/** What instruments are off by, one deviation. Usual ones of a shop. */
const OFF = {
  voltageV: 0.006,
  temperatureC: 0.4,
  currentShare: 0.01,
  sg: 0.003,
  cellV: 0.006,
  underV: 0.02,
  ccaShare: 0.03,
  ohmShare: 0.04,
  massG: 3,
} as const;
/** A clip sits badly once in so many readings of a voltage: it then shows too little, and will not stand still. */
const BAD_CONTACT = 0.04;
const BAD_CONTACT_V = [0.3, 2] as const;
/** Where an analyser finds next to nothing to measure, V per cell. */
const ANALYSER_LEAST_V = 1.2;
/** Power in one cell that the hand feels as hot, W. */
const HOT_W = 8;
const WARM_OVER_ROOM_C = 6;

/** Why it cannot be taken just now. */
export class CannotTake extends Error {}

/** One reading of an instrument, with its error. @throws CannotTake where there is nothing to read */
export function takeReading(
  take: TakeKind,
  world: World,
  drillCase: DrillCase,
  random: Random,
): Extract<Shown, { of: 'reading' }> {
  const { model } = drillCase;
  const reading = (
    more: Omit<Extract<Shown, { of: 'reading' }>, 'of' | 'take'>,
  ): Extract<Shown, { of: 'reading' }> => ({ of: 'reading', take, ...more });
  if (take === 'acid') {
    const { acid } = drillCase;
    if (!acid) throw new CannotTake('There is no container of acid here.');
    return reading({
      values: {
        specificGravity: round(sgAsRead(acid.sg25, world.acidC) + OFF.sg * random.normal(), 3),
        temperatureC: round(world.acidC + OFF.temperatureC * random.normal(), 0),
      },
    });
  }
  if (take === 'temperature')
    return reading({
      values: { temperatureC: round(world.temperatureC + OFF.temperatureC * random.normal(), 0) },
    });
  const { battery } = world;
  if (!battery) {
    if (take === 'volts') return reading({ values: { voltageV: 0 }, says: 'It is dry.' });
    throw new CannotTake('It is dry. There is nothing to measure yet.');
  }
  const meter = (v: number, off: number = OFF.voltageV): number =>
    round(v * (drillCase.meterShows ?? 1) + off * random.normal(), 2);
  const cells = Array.from({ length: battery.cells }, (_, k) => k);
  switch (take) {
    case 'volts': {
      const bad = random.even() < BAD_CONTACT;
      const [least, most] = BAD_CONTACT_V;
      const lost = bad ? least + (most - least) * random.even() : 0;
      return reading({
        values: { voltageV: meter(world.voltageV - lost) },
        ...(bad ? { says: 'The reading will not stand still.' } : {}),
      });
    }
    case 'amps':
      return reading({
        values: {
          currentA: round(world.currentA * (1 + OFF.currentShare * random.normal()), 2),
        },
      });
    case 'charger': {
      const shown = world.showing;
      if (!shown && !world.showsAmps) throw new CannotTake('No charger is on it.');
      return reading({
        values: world.showsAmps ? { currentA: round(world.currentA, 1) } : {},
        ...(shown ? { showing: shown } : {}),
      });
    }
    case 'sg':
      mustBeOpen(drillCase);
      return reading({
        values: { temperatureC: round(world.temperatureC, 0) },
        cells: cells.map((k): CellValues => ({
          specificGravity: round(
            sgAsRead(viewCell(battery, k).sgTop, world.temperatureC) + OFF.sg * random.normal(),
            3,
          ),
        })),
      });
    case 'cell-volts':
      mustBeOpen(drillCase);
      return reading({
        values: {},
        cells: cells.map((k): CellValues => ({
          voltageV: meter(viewCell(battery, k).voltageV, OFF.cellV),
        })),
      });
    case 'load': {
      const before = world.voltageV;
      const { underV, afterV } = world.loadFor(loadTestA(model.c20Ah), LOAD_TEST_S);
      return reading({
        values: {
          beforeV: meter(before),
          voltageV: Math.max(0, meter(underV, OFF.underV)),
          afterV: meter(afterV),
          temperatureC: round(world.temperatureC, 0),
        },
      });
    }
    case 'analyser': {
      if (world.voltageV < ANALYSER_LEAST_V * battery.cells)
        throw new CannotTake('The analyser does not start: too little voltage.');
      const ohms = Math.max(1e-5, world.stepper.pulseOhm);
      const { temperatureC } = world;
      const { chemistry } = leadAcidKind(model.kind);
      return reading({
        values: {
          ...(model.cca === null
            ? {}
            : {
                ccaA: round(
                  model.cca *
                    (soundOhms({ ...labelledSize(model), chemistry, temperatureC }) / ohms) *
                    (1 + OFF.ccaShare * random.normal()),
                  0,
                ),
              }),
          resistanceMilliohm: round(1000 * ohms * (1 + OFF.ohmShare * random.normal()), 1),
        },
      });
    }
    case 'mass': {
      if (drillCase.wetMassG === undefined)
        throw new CannotTake('Nobody knows what it weighed when new.');
      return reading({
        values: {
          massG: round(
            drillCase.wetMassG - missingWaterG(battery) + OFF.massG * random.normal(),
            0,
          ),
        },
      });
    }
    case 'feel': {
      const warm = world.temperatureC > drillCase.roomC + WARM_OVER_ROOM_C;
      return reading({
        values: {},
        feel: cells.map((k): CellFeel => {
          const short = drillCase.truth.condition.cells?.[k]?.shortOhm;
          const watts = short ? viewCell(battery, k).voltageV ** 2 / short : 0;
          return watts > HOT_W && world.charging ? 'hot' : warm || watts > 2 ? 'warm' : 'cool';
        }),
      });
    }
  }
}

function mustBeOpen({ model }: DrillCase): void {
  if (leadAcidKind(model.kind).ports !== 'serviceable')
    throw new CannotTake('Its cells are closed.');
}

const round = (value: number, digits: number): number => Number(value.toFixed(digits));
