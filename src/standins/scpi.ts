import type { Rack } from './rack.ts';

/** What one connection to an instrument remembers. */
export interface Session {
  output: number;
  errors: string[];
}

export const freshSession = (): Session => ({ output: 1, errors: [] });

/** What to send back; `null` for nothing, `silence` when the instrument plays dead. */
type Answer = string | null | typeof SILENCE;
export const SILENCE = Symbol('silence');

type Handler = (rack: Rack, session: Session, argument: string) => Answer;
type Commands = Readonly<Record<string, Handler>>;

/**
 * Does a header match a pattern such as `MEASure:VOLTage[:DC]?` in its short or long form? The usual
 * rule: upper-case letters are the short form, brackets may be left out.
 */
export function matches(pattern: string, header: string): boolean {
  const parts = pattern
    .replaceAll('[:', '[')
    .split(/[:[\]]/)
    .filter((p) => p !== '');
  const optional = [...pattern.matchAll(/\[:?([^\]]+)\]/g)].map((m) => m[1]);
  const asked = header.toUpperCase().replace(/^:/, '').split(':');
  const query = pattern.endsWith('?');
  if (query !== header.endsWith('?')) return false;
  const bare = (word: string) => word.replace('?', '');
  let at = 0;
  for (const raw of parts) {
    const part = bare(raw);
    if (part === '') continue;
    const word = bare(asked[at] ?? '');
    const short = part.replace(/[a-z]/g, '');
    if (word === short || word === part.toUpperCase()) at += 1;
    else if (!optional.some((o) => o !== undefined && bare(o) === part)) return false;
  }
  return at === asked.length;
}

const number = (text: string): number | null => {
  const value = Number(text.trim());
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
};

/** A setting: needs a number in a range, else error −222 as usual. */
const setting =
  (low: number, high: number, set: (rack: Rack, output: number, value: number) => void): Handler =>
  (rack, session, argument) => {
    const value = number(argument);
    if (value === null || value < low || value > high) {
      session.errors.push('-222,"Data out of range"');
      return null;
    }
    set(rack, session.output, value);
    return null;
  };

const switching =
  (set: (rack: Rack, output: number, on: boolean) => void): Handler =>
  (rack, session, argument) => {
    const word = argument.trim().toUpperCase();
    if (!['ON', 'OFF', '1', '0'].includes(word)) session.errors.push('-224,"Illegal parameter value"');
    else set(rack, session.output, word === 'ON' || word === '1');
    return null;
  };

const measured =
  (read: (rack: Rack, output: number) => number | null, decimals: number): Handler =>
  (rack, session) => {
    if (rack.places[session.output - 1]?.mischief.has('silent')) return SILENCE;
    const value = read(rack, session.output);
    return value === null ? '9.91E37' : value.toFixed(decimals);
  };

const common = (model: string): Commands => ({
  '*IDN?': () => `CORK EMBER STAND-IN,${model},0,1.0`,
  '*CLS': (_, session) => {
    session.errors.length = 0;
    return null;
  },
  'SYSTem:ERRor[:NEXT]?': (_, session) => session.errors.shift() ?? '0,"No error"',
  'INSTrument:NSELect': (rack, session, argument) => {
    const value = number(argument);
    if (value === null || !rack.places[value - 1]) session.errors.push('-222,"Data out of range"');
    else session.output = value;
    return null;
  },
  'INSTrument:NSELect?': (_, session) => String(session.output),
});

const CHARGER: Commands = {
  ...common('EIGHT-PLACE CHARGER'),
  VOLTage: setting(0, 33, (rack, output, volts) => rack.set(output, { volts })),
  'VOLTage?': (rack, { output }) => String(rack.places[output - 1]?.output.volts ?? 0),
  CURRent: setting(0, 60, (rack, output, amps) => rack.set(output, { amps })),
  'CURRent?': (rack, { output }) => String(rack.places[output - 1]?.output.amps ?? 0),
  'OUTPut[:STATe]': switching((rack, output, on) => rack.set(output, { on })),
  'OUTPut[:STATe]?': (rack, { output }) => {
    rack.advance();
    return rack.places[output - 1]?.output.on ? '1' : '0';
  },
  'OUTPut:PROTection:WDOG:DELay': setting(1, 600, (rack, output, watchdogS) => rack.set(output, { watchdogS })),
  'OUTPut:PROTection:WDOG:DELay?': (rack, { output }) => String(rack.places[output - 1]?.output.watchdogS ?? 0),
  'OUTPut:PROTection:WDOG[:STATe]': switching((rack, output, on) =>
    rack.set(output, on ? { watchdogS: rack.places[output - 1]?.output.watchdogS ?? 60 } : { watchdogS: null }),
  ),
  'PULSe:WIDTh?': (rack, { output }) => String(rack.places[output - 1]?.output.pulse?.widthS ?? 0),
  'PULSe:WIDTh': setting(0.1, 3600, (rack, output, widthS) =>
    rack.set(output, { pulse: { widthS, periodS: Math.max(widthS * 2, rack.places[output - 1]?.output.pulse?.periodS ?? 0) } }),
  ),
  'PULSe:PERiod': setting(0.2, 7200, (rack, output, periodS) =>
    rack.set(output, { pulse: { widthS: rack.places[output - 1]?.output.pulse?.widthS ?? periodS / 2, periodS } }),
  ),
  'PULSe[:STATe]': switching((rack, output, on) => (on ? undefined : rack.set(output, { pulse: null }))),
  'MEASure[:SCALar]:VOLTage[:DC]?': measured((rack, output) => rack.measure(output).voltageV, 3),
  'MEASure[:SCALar]:CURRent[:DC]?': measured((rack, output) => rack.measure(output).currentA, 3),
  'MEASure[:SCALar]:TEMPerature?': measured((rack, output) => rack.measure(output).temperatureC, 2),
};

const LOAD: Commands = {
  ...common('ELECTRONIC LOAD'),
  CURRent: setting(0, 300, (rack, output, amps) => rack.setLoad(output, { amps })),
  'VOLTage:PROTection': setting(0, 33, (rack, output, cutV) => rack.setLoad(output, { cutV })),
  'INPut[:STATe]': switching((rack, output, on) => rack.setLoad(output, { on })),
  'INPut[:STATe]?': (rack, { output }) => (rack.places[output - 1]?.load.on ? '1' : '0'),
  'MEASure:VOLTage?': measured((rack, output) => rack.measure(output).voltageV, 3),
  'MEASure:CURRent?': measured((rack, output) => Math.abs(rack.measure(output).currentA), 3),
};

/** `(@3)` or `(@3,2)`: a place, and a cell. */
function channel(argument: string): [number, number] {
  const found = /\(@(\d+)(?:,(\d+))?\)/.exec(argument);
  return [Number(found?.[1] ?? 1), Number(found?.[2] ?? 1)];
}

const handHeld =
  (read: (rack: Rack, place: number, cell: number) => number | null, decimals: number): Handler =>
  (rack, session, argument) => {
    const [place, cell] = channel(argument);
    if (!rack.places[place - 1]) {
      session.errors.push('-222,"Data out of range"');
      return '9.91E37';
    }
    const value = read(rack, place, cell);
    return value === null ? '9.91E37' : value.toFixed(decimals);
  };

export const INSTRUMENTS = {
  charger: CHARGER,
  load: LOAD,
  meter: {
    ...common('BENCH METER'),
    'MEASure:VOLTage[:DC]?': handHeld((rack, place) => rack.measure(place).voltageV, 3),
    'MEASure:TEMPerature?': handHeld((rack, place) => rack.measure(place).temperatureC, 1),
  },
  hydrometer: { ...common('HYDROMETER'), 'MEASure:SG?': handHeld((rack, place, cell) => rack.cell(place, cell)?.sg ?? null, 3) },
  analyser: {
    ...common('BATTERY ANALYSER'),
    'MEASure:RESistance?': handHeld((rack, place) => milliohms(rack, place), 2),
    // Conductance analysers estimate CCA (EN) as a constant over resistance; this one says 3.1 V over it.
    'MEASure:CCA?': handHeld((rack, place) => ((mOhm) => (mOhm === null ? null : 3100 / mOhm))(milliohms(rack, place)), 0),
  },
  scale: { ...common('SCALE'), 'MEASure:MASS?': handHeld((rack, place) => rack.massG(place), 0) },
} as const satisfies Record<string, Commands>;
export type InstrumentName = keyof typeof INSTRUMENTS;

function milliohms(rack: Rack, place: number): number | null {
  const ohms = rack.resistanceOhm(place);
  return ohms === null ? null : ohms * 1000;
}

/** Carries out one line, which may hold several commands apart by `;`. */
export function answer(instrument: InstrumentName, rack: Rack, session: Session, line: string): Answer {
  const replies: string[] = [];
  for (const command of line
    .split(';')
    .map((c) => c.trim())
    .filter((c) => c !== '')) {
    const [header = '', ...rest] = command.split(/\s+/);
    const commands: Commands = INSTRUMENTS[instrument];
    const pattern = Object.keys(commands).find((p) => matches(p, header));
    if (!pattern) {
      session.errors.push('-113,"Undefined header"');
      continue;
    }
    const reply = commands[pattern]?.(rack, session, rest.join(' ')) ?? null;
    // A watchdog wants to be spoken to at its own output.
    if (instrument === 'charger') rack.heard(session.output);
    if (reply === SILENCE) return SILENCE;
    if (typeof reply === 'string') replies.push(reply);
  }
  return replies.length > 0 ? replies.join(';') : null;
}
