import type { Rack } from './rack.ts';
import { OPERATION_COMPLETE, SERVICE_REQUEST, type ScpiSession } from './session.ts';

/** What to send back; `null` for nothing, `silence` when the instrument plays dead. */
type Answer = string | null | typeof SILENCE;
export const SILENCE = Symbol('silence');

type Handler = (rack: Rack, session: ScpiSession, argument: string) => Answer;
type Commands = Readonly<Record<string, Handler>>;

/** A word of a pattern, in both its forms, in capitals. */
interface Node {
  long: string;
  short: string;
  optional: boolean;
}

const known = new Map<string, readonly Node[]>();

/** The nodes of a pattern such as `[SOURce:]VOLTage[:LEVel]?`. */
function nodesOf(pattern: string): readonly Node[] {
  let nodes = known.get(pattern);
  if (!nodes) {
    nodes = [...pattern.matchAll(/(\[)?:?([A-Za-z*]+)/g)].map(([, bracket, word = '']) => ({
      long: word.toUpperCase(),
      short: word.replace(/[a-z]/g, ''),
      optional: bracket !== undefined,
    }));
    known.set(pattern, nodes);
  }
  return nodes;
}

/**
 * Does a header match a pattern such as `MEASure[:SCALar]:VOLTage[:DC]?` in its short or long form? The usual
 * rule (SCPI-99, 6.2.1): upper-case letters are the short form, what stands in brackets may be left out.
 */
export function matches(pattern: string, header: string): boolean {
  if (pattern.endsWith('?') !== header.endsWith('?')) return false;
  const words = header.toUpperCase().replace(/^:/, '').replace('?', '').split(':');
  return fits(nodesOf(pattern), 0, words, 0);
}

/** Do these words, from one on, say what is left of a pattern? */
function fits(nodes: readonly Node[], at: number, words: readonly string[], from: number): boolean {
  const node = nodes[at];
  if (!node) return from === words.length;
  const word = words[from];
  if ((word === node.long || word === node.short) && fits(nodes, at + 1, words, from + 1))
    return true;
  return node.optional && fits(nodes, at + 1, words, from);
}

/** A number, with its unit where the sender writes one: `14.4`, `1.2 A`, `1.44E1`. */
const number = (text: string): number | null => {
  const value = Number(text.trim().replace(/\s*(V|A|S|SEC)$/i, ''));
  return text.trim() === '' || !Number.isFinite(value) ? null : value;
};

/** A limit asked for by its name instead of a number. */
function limit(argument: string, low: number, high: number): number | null {
  const word = argument.trim().toUpperCase();
  return ['MIN', 'MINIMUM'].includes(word) ? low : ['MAX', 'MAXIMUM'].includes(word) ? high : null;
}

/** A setting in a range: anything else is an error of its own kind. */
const setting =
  (low: number, high: number, set: (rack: Rack, output: number, value: number) => void): Handler =>
  (rack, session, argument) => {
    const value = limit(argument, low, high) ?? number(argument);
    if (argument.trim() === '') session.fail(-109);
    else if (value === null) session.fail(-104);
    else if (value < low || value > high) session.fail(-222);
    else set(rack, session.output, value);
    return null;
  };

/** Asks for a setting, or for the least or most it may be. */
const asking =
  (low: number, high: number, read: (rack: Rack, output: number) => number): Handler =>
  (rack, session, argument) =>
    String(limit(argument, low, high) ?? read(rack, session.output));

const switching =
  (set: (rack: Rack, output: number, on: boolean) => void): Handler =>
  (rack, session, argument) => {
    const word = argument.trim().toUpperCase();
    if (word === '') session.fail(-109);
    else if (!['ON', 'OFF', '1', '0'].includes(word)) session.fail(-224);
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

/** An 8-bit register that a program sets. */
const register =
  (set: (session: ScpiSession, value: number) => unknown): Handler =>
  (_, session, argument) => {
    const value = number(argument);
    if (value === null) session.fail(-104);
    else if (value < 0 || value > 255) session.fail(-222);
    else set(session, Math.round(value));
    return null;
  };

/** What every instrument answers (IEEE 488.2, 10; SCPI-99, 4.1 and 21). `reset` is what `*RST` does to it. */
const common = (model: string, reset: (rack: Rack) => void): Commands => ({
  '*IDN?': () => `CORK EMBER STAND-IN,${model},0,1.0`,
  '*CLS': (_, session) => session.clear(),
  '*ESE': register((session, value) => (session.eventEnable = value)),
  '*ESE?': (_, session) => String(session.eventEnable),
  '*ESR?': (_, session) => String(session.takeEvents()),
  '*SRE': register((session, value) => (session.serviceEnable = value & ~SERVICE_REQUEST)),
  '*SRE?': (_, session) => String(session.serviceEnable),
  '*STB?': (_, session) => String(session.statusByte),
  // Every command is over before the next is read, so nothing is ever waited for.
  '*OPC': (_, session) => session.note(OPERATION_COMPLETE),
  '*OPC?': () => '1',
  '*WAI': () => null,
  '*TST?': () => '0',
  '*RST': (rack) => {
    reset(rack);
    return null;
  },
  'SYSTem:ERRor[:NEXT]?': (_, session) => session.nextError(),
  'SYSTem:ERRor:COUNt?': (_, session) => String(session.errorCount),
  'SYSTem:VERSion?': () => '1999.0',
  'INSTrument:NSELect': (rack, session, argument) => {
    const value = number(argument);
    if (value === null) session.fail(-104);
    else if (!rack.places[value - 1]) session.fail(-222);
    else session.output = value;
    return null;
  },
  'INSTrument:NSELect?': (_, session) => String(session.output),
});

const nothing = (): void => undefined;
const everyPlace = (rack: Rack, act: (output: number) => void): void =>
  rack.places.forEach((_, i) => act(i + 1));

const SOURCE = '[SOURce:]';
const LEVEL = '[:LEVel][:IMMediate][:AMPLitude]';

/** `1,500`: so many points of the record from the first on. */
const slice =
  (of: (taken: { amps: number[]; volts: number[] }) => number[]): Handler =>
  (rack, session, argument) => {
    const [first, count] = argument.split(',').map(Number);
    const taken = rack.recorded(session.output);
    if (!taken || !first || !count || !(first >= 1) || !(count >= 1 && count <= 500)) {
      session.fail(-222);
      return null;
    }
    return of(taken)
      .slice(first - 1, first - 1 + count)
      .join(',');
  };

const CHARGER: Commands = {
  ...common('EIGHT-PLACE CHARGER', (rack) =>
    everyPlace(rack, (output) =>
      rack.set(output, { on: false, volts: 0, amps: 0, pulse: null, watchdogS: null }),
    ),
  ),
  [`${SOURCE}VOLTage${LEVEL}`]: setting(0, 33, (rack, output, volts) =>
    rack.set(output, { volts }),
  ),
  [`${SOURCE}VOLTage${LEVEL}?`]: asking(
    0,
    33,
    (rack, output) => rack.places[output - 1]?.output.volts ?? 0,
  ),
  [`${SOURCE}CURRent${LEVEL}`]: setting(0, 60, (rack, output, amps) => rack.set(output, { amps })),
  [`${SOURCE}CURRent${LEVEL}?`]: asking(
    0,
    60,
    (rack, output) => rack.places[output - 1]?.output.amps ?? 0,
  ),
  'OUTPut[:STATe]': switching((rack, output, on) => rack.set(output, { on })),
  'OUTPut[:STATe]?': (rack, { output }) => {
    rack.advance();
    return rack.places[output - 1]?.output.on ? '1' : '0';
  },
  'OUTPut:PROTection:WDOG:DELay': setting(1, 600, (rack, output, watchdogS) =>
    rack.set(output, { watchdogS }),
  ),
  'OUTPut:PROTection:WDOG:DELay?': (rack, { output }) =>
    String(rack.places[output - 1]?.output.watchdogS ?? 0),
  'OUTPut:PROTection:WDOG[:STATe]': switching((rack, output, on) =>
    rack.set(
      output,
      on ? { watchdogS: rack.places[output - 1]?.output.watchdogS ?? 60 } : { watchdogS: null },
    ),
  ),
  'PULSe:WIDTh?': (rack, { output }) => String(rack.places[output - 1]?.output.pulse?.widthS ?? 0),
  'PULSe:WIDTh': setting(0.1, 3600, (rack, output, widthS) =>
    rack.set(output, {
      pulse: {
        widthS,
        periodS: Math.max(widthS * 2, rack.places[output - 1]?.output.pulse?.periodS ?? 0),
      },
    }),
  ),
  'PULSe:PERiod': setting(0.2, 7200, (rack, output, periodS) =>
    rack.set(output, {
      pulse: { widthS: rack.places[output - 1]?.output.pulse?.widthS ?? periodS / 2, periodS },
    }),
  ),
  'PULSe[:STATe]': switching((rack, output, on) =>
    on ? undefined : rack.set(output, { pulse: null }),
  ),
  // A record of the output: how many points over how long, taken at once, fetched in slices.
  'TRACe:POINts': setting(1000, 4000, (rack, output, points) => rack.wants(output, { points })),
  'TRACe:TIME': setting(0.001, 600, (rack, output, seconds) => rack.wants(output, { seconds })),
  INITiate: (rack, { output }) => {
    rack.takeRecord(output);
    return null;
  },
  'TRACe:READy?': (rack, { output }) => (rack.recorded(output) ? '1' : '0'),
  'TRACe:DATA:CURRent?': slice((taken) => taken.amps),
  'TRACe:DATA:VOLTage?': slice((taken) => taken.volts),
  'MEASure[:SCALar]:VOLTage[:DC]?': measured((rack, output) => rack.measure(output).voltageV, 3),
  'MEASure[:SCALar]:CURRent[:DC]?': measured((rack, output) => rack.measure(output).currentA, 3),
  'MEASure[:SCALar]:TEMPerature?': measured((rack, output) => rack.measure(output).temperatureC, 2),
};

const LOAD: Commands = {
  ...common('ELECTRONIC LOAD', (rack) =>
    everyPlace(rack, (output) => rack.setLoad(output, { on: false, amps: 0, cutV: 0 })),
  ),
  [`${SOURCE}CURRent${LEVEL}`]: setting(0, 300, (rack, output, amps) =>
    rack.setLoad(output, { amps }),
  ),
  [`${SOURCE}CURRent${LEVEL}?`]: asking(
    0,
    300,
    (rack, output) => rack.places[output - 1]?.load.amps ?? 0,
  ),
  [`${SOURCE}VOLTage:PROTection[:LEVel]`]: setting(0, 33, (rack, output, cutV) =>
    rack.setLoad(output, { cutV }),
  ),
  [`${SOURCE}VOLTage:PROTection[:LEVel]?`]: asking(
    0,
    33,
    (rack, output) => rack.places[output - 1]?.load.cutV ?? 0,
  ),
  'INPut[:STATe]': switching((rack, output, on) => rack.setLoad(output, { on })),
  'INPut[:STATe]?': (rack, { output }) => (rack.places[output - 1]?.load.on ? '1' : '0'),
  'MEASure[:SCALar]:VOLTage[:DC]?': measured((rack, output) => rack.measure(output).voltageV, 3),
  'MEASure[:SCALar]:CURRent[:DC]?': measured(
    (rack, output) => Math.abs(rack.measure(output).currentA),
    3,
  ),
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
      session.fail(-222);
      return '9.91E37';
    }
    const value = read(rack, place, cell);
    return value === null ? '9.91E37' : value.toFixed(decimals);
  };

export const INSTRUMENTS = {
  charger: CHARGER,
  load: LOAD,
  meter: {
    ...common('BENCH METER', nothing),
    'MEASure[:SCALar]:VOLTage[:DC]?': handHeld((rack, place) => rack.measure(place).voltageV, 3),
    'MEASure[:SCALar]:TEMPerature?': handHeld((rack, place) => rack.measure(place).temperatureC, 1),
  },
  hydrometer: {
    ...common('HYDROMETER', nothing),
    'MEASure:SG?': handHeld((rack, place, cell) => rack.cell(place, cell)?.sg ?? null, 3),
  },
  analyser: {
    ...common('BATTERY ANALYSER', nothing),
    'MEASure[:SCALar]:RESistance?': handHeld((rack, place) => milliohms(rack, place), 2),
    // Conductance analysers estimate CCA (EN) as a constant over resistance; this one says 3.1 V over it.
    'MEASure:CCA?': handHeld(
      (rack, place) => ((mOhm) => (mOhm === null ? null : 3100 / mOhm))(milliohms(rack, place)),
      0,
    ),
  },
  scale: {
    ...common('SCALE', nothing),
    'MEASure:MASS?': handHeld((rack, place) => rack.massG(place), 0),
  },
} as const satisfies Record<string, Commands>;
export type InstrumentName = keyof typeof INSTRUMENTS;

function milliohms(rack: Rack, place: number): number | null {
  const ohms = rack.resistanceOhm(place);
  return ohms === null ? null : ohms * 1000;
}

/**
 * Carries out one line, which may hold several commands apart by `;`. One that begins without a colon goes on from
 * the path of the one before it: `MEAS:VOLT?;CURR?` (SCPI-99, 6.2.4).
 */
export function answer(
  instrument: InstrumentName,
  rack: Rack,
  session: ScpiSession,
  line: string,
): Answer {
  const commands: Commands = INSTRUMENTS[instrument];
  const find = (header: string) => Object.keys(commands).find((p) => matches(p, header));
  const replies: string[] = [];
  let path = '';
  for (const command of line
    .split(';')
    .map((c) => c.trim())
    .filter((c) => c !== '')) {
    const [header = '', ...rest] = command.split(/\s+/);
    const relative = path !== '' && !/^[:*]/.test(header) ? find(`${path}:${header}`) : undefined;
    const pattern = relative ?? find(header);
    if (!pattern) {
      session.fail(-113);
      continue;
    }
    if (!header.startsWith('*'))
      path = (relative ? `${path}:${header}` : header).split(':').slice(0, -1).join(':');
    const reply = commands[pattern]?.(rack, session, rest.join(' ')) ?? null;
    // A watchdog wants to be spoken to at its own output.
    if (instrument === 'charger') rack.heard(session.output);
    if (reply === SILENCE) return SILENCE;
    if (typeof reply === 'string') replies.push(reply);
  }
  return replies.length > 0 ? replies.join(';') : null;
}
