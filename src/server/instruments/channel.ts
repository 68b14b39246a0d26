import type { TriedInstrument } from '../../contract/chargeWire.ts';
import type { FittedStage } from '../../core/charging/fitPlan.ts';
import type { Demand } from '../../core/charging/runPlan.ts';
import { instrumentAt, type InstrumentSetting } from '../../core/house/instruments.ts';
import { Mutex } from 'async-mutex';
import { InstrumentError, ScpiClient } from './scpiClient.ts';

export interface ChannelReading {
  voltageV: number;
  /** Charging positive. */
  currentA: number;
  temperatureC: number;
  /** Is the output that should act switched on? */
  on: boolean;
}

/** The device's own watchdog: it switches off when nobody has spoken to it for so long. Real seconds. */
export const WATCHDOG_S = 5;

/** Points of a record fetched at a time: a line of them stays short. */
const SLICE = 500;
/** A record may take this much longer than its own length. s */
const RECORD_SLACK_S = 5;

/** One output of an instrument, and how to speak to it. An instrument of one output knows no numbers. */
interface Line {
  client: ScpiClient;
  select: string;
}

/** One clip of a real (or stand-in) instrument: a charger's output, and a load's where there is one. */
export class Channel {
  /** What the instruments were last told; empty when that is not certain. */
  #told = '';
  /** One at a time tells it what to do, and the last to be heard is the last to have its way. */
  readonly #turn = new Mutex();

  constructor(
    private readonly charger: Line,
    private readonly load: Line | null,
  ) {}

  get discharges(): boolean {
    return this.load !== null;
  }

  /** Has it said that nothing flows, since it was last told to stop? */
  get isOff(): boolean {
    return this.#told === 'off';
  }

  /**
   * Output off, watchdog armed.
   *
   * @returns what the instrument lacks to be trusted with such a charge, a sentence each
   * @throws InstrumentError when it does not answer
   */
  async prepare(needs: { pulses: boolean }): Promise<string[]> {
    const { client, select } = this.charger;
    const asked = async (question: string): Promise<number> =>
      ((await client.numbers(`${select}${question}`, 1).catch(() => [])) as number[])[0] ??
      Number.NaN;
    await this.off();
    await client.tell(`*CLS;${select}OUTP:PROT:WDOG:DEL ${WATCHDOG_S};:OUTP:PROT:WDOG ON`);
    await client.numbers(`${select}MEAS:VOLT?`, 1);
    const missing: string[] = [];
    if ((await asked('OUTP:PROT:WDOG:DEL?')) !== WATCHDOG_S)
      missing.push('It has no watchdog of its own, which switches off when nobody speaks to it.');
    if (Number.isNaN(await asked('MEAS:TEMP?'))) missing.push('It senses no temperature.');
    if (needs.pulses && Number.isNaN(await asked('PULS:WIDT?')))
      missing.push('It cannot pulse, and the plan does.');
    return missing;
  }

  async measure(): Promise<ChannelReading> {
    const { client, select } = this.charger;
    const [voltageV, currentA, temperatureC, on] = (await client.numbers(
      `${select}MEAS:VOLT?;:MEAS:CURR?;:MEAS:TEMP?;:OUTP?`,
      4,
    )) as Four;
    if (!this.load || !this.#told.startsWith('load'))
      return { voltageV, currentA, temperatureC, on: on !== 0 };
    const [amps, input] = (await this.load.client.numbers(
      `${this.load.select}MEAS:CURR?;:INP?`,
      2,
    )) as [number, number];
    return { voltageV, currentA: -amps, temperatureC, on: input !== 0 };
  }

  /**
   * A record of what the charger gives: so long, in so many points. It waits as long as the instrument takes; looks go on between.
   *
   * @returns null where it keeps no records
   * @throws InstrumentError when it does not answer
   */
  async record(
    seconds: number,
    points: number,
    wait: (ms: number) => Promise<void>,
  ): Promise<{ currentA: number[]; voltageV: number[] } | null> {
    const { client, select } = this.charger;
    const ready = async (line: string): Promise<number> =>
      ((await client.numbers(line, 1).catch(() => [Number.NaN])) as [number])[0];
    let is = await ready(
      `${select}TRAC:POIN ${points};:TRAC:TIME ${seconds.toFixed(3)};:INIT;:TRAC:READ?`,
    );
    if (Number.isNaN(is)) return null;
    for (let waited = 0; is !== 1 && waited < seconds + RECORD_SLACK_S; waited += 0.5) {
      await wait(500);
      is = await ready(`${select}TRAC:READ?`);
    }
    if (is !== 1) return null;
    const row = async (which: 'CURR' | 'VOLT'): Promise<number[]> => {
      const values: number[] = [];
      for (let first = 1; first <= points; first += SLICE)
        values.push(
          ...(await client.ask(`${select}TRAC:DATA:${which}? ${first},${SLICE}`))
            .split(',')
            .map(Number),
        );
      if (values.length !== points || values.some((v) => !Number.isFinite(v)))
        throw new InstrumentError('The record of the instrument makes no sense.');
      return values;
    };
    return { currentA: await row('CURR'), voltageV: await row('VOLT') };
  }

  /**
   * Makes the instruments do what is wanted when its turn comes; says nothing twice. A stop that arrives while
   * the instrument is being told something else is heard before anything is switched on.
   *
   * @param wanted null: everything off
   * @throws InstrumentError when that is not certain
   */
  drive(wanted: () => Wanted | null): Promise<void> {
    return this.#turn.runExclusive(async () => {
      const first = orderOf(wanted());
      if (first.line === this.#told) return;
      if (first.kind !== 'off' && this.#told.split(' ')[0] !== first.kind) await this.#off();
      const order = orderOf(wanted());
      if (order.kind === 'off') {
        if (!this.isOff) await this.#off();
        return;
      }
      this.#told = '';
      if (order.kind === 'load') {
        if (!this.load)
          throw new InstrumentError('This place has no electronic load to discharge with.');
        const { client, select } = this.load;
        await client.tell(`${select}${order.tell}`);
      } else await this.charger.client.tell(`${this.charger.select}${order.tell}`);
      this.#told = order.line;
    });
  }

  /** Switches everything off and has it confirmed. @throws InstrumentError when that is not certain */
  off(): Promise<void> {
    return this.#turn.runExclusive(() => this.#off());
  }

  async #off(): Promise<void> {
    const loaded = this.#told.startsWith('load');
    this.#told = '';
    await switchOff(this.charger, 'OUTP');
    // A load that was not in use may be away altogether.
    if (this.load)
      await switchOff(this.load, 'INP').catch((error: unknown) =>
        loaded ? Promise.reject(error as Error) : undefined,
      );
    this.#told = 'off';
  }
}

/** What a plan wants of a place now. */
export interface Wanted {
  demand: Demand;
  stage: FittedStage;
}

interface Order {
  kind: 'off' | 'charge' | 'load';
  /** Its own words, by which the same order is known again. */
  line: string;
  tell: string;
}

function orderOf(wanted: Wanted | null): Order {
  const pulsing = wanted?.stage.do === 'pulse';
  if (!wanted || (wanted.demand.currentA === 0 && !pulsing))
    return { kind: 'off', line: 'off', tell: '' };
  const { demand, stage } = wanted;
  if (demand.currentA < 0) {
    const amps = (-demand.currentA).toFixed(3);
    // The load's own cut-off stands a little lower: it is there for a server that died.
    const tell = `CURR ${amps};:VOLT:PROT ${(demand.limitV - 0.1).toFixed(3)};:INP ON`;
    return { kind: 'load', line: `load ${tell}`, tell };
  }
  // The instrument times the bursts itself; compensation moves the ceiling by steps of a hundredth.
  const amps = stage.currentA.toFixed(3);
  const volts = (stage.do === 'pulse' ? stage.limitV : demand.limitV).toFixed(2);
  const pulse =
    stage.do === 'pulse'
      ? `:PULS:WIDT ${stage.onS};:PULS:PER ${stage.onS + stage.offS};:PULS ON;`
      : ':PULS OFF;';
  const tell = `VOLT ${volts};:CURR ${amps};${pulse}:OUTP ON`;
  return { kind: 'charge', line: `charge ${tell}`, tell };
}

async function switchOff({ client, select }: Line, turn: 'OUTP' | 'INP'): Promise<void> {
  const [still] = await client.numbers(`${select}${turn} OFF;:${turn}?`, 1);
  if (still !== 0)
    throw new InstrumentError(
      `The instrument at ${client.host}:${client.port} was told to switch off and has not.`,
    );
}

type Four = [number, number, number, number];

/** What `*IDN?` is answered with by IEEE 488.2: maker, model, serial number and firmware, in plain characters. */
const IDENTITY = /^[ -+\--~]{1,40}(,[ -+\--~]{0,40}){1,3}$/;

/** Every instrument of the house, each spoken to through one line. */
export class Instruments {
  readonly #clients = new Map<string, ScpiClient>();

  /** @param timeoutMs how long an instrument may take to answer */
  constructor(private readonly timeoutMs = 700) {}

  client({ host, port }: Pick<InstrumentSetting, 'host' | 'port'>): ScpiClient {
    const key = `${host}:${port}`;
    const known = this.#clients.get(key) ?? new ScpiClient(host, port, this.timeoutMs);
    this.#clients.set(key, known);
    return known;
  }

  /** The channel of a place with a line of its own, or null where charges are run by hand. */
  channel(
    settings: readonly InstrumentSetting[],
    place: number,
  ): { channel: Channel; charger: InstrumentSetting } | null {
    const charger = instrumentAt(settings, 'charger', place);
    if (!charger) return null;
    const load = instrumentAt(settings, 'load', place);
    const line = (served: typeof charger): Line => ({
      client: this.client(served.setting),
      select: served.setting.outputs > 1 ? `INST:NSEL ${served.output};:` : ':',
    });
    return { channel: new Channel(line(charger), load && line(load)), charger: charger.setting };
  }

  /** Does it answer, and can it be trusted with a charge? Switches nothing on, and nothing off. */
  async tryOut(setting: InstrumentSetting): Promise<TriedInstrument> {
    const line = new ScpiClient(setting.host, setting.port, 2 * this.timeoutMs);
    try {
      const name = await line.ask('*IDN?').catch(() => '');
      // Closed, silent or something else altogether: it is told apart from no instrument by nothing that is said here.
      if (!IDENTITY.test(name))
        return {
          ok: false,
          lines: [
            `No instrument answers at ${setting.host}:${setting.port}. Look at the address, the plug and its switch.`,
          ],
        };
      const lines = [name];
      let ok = true;
      if (setting.kind === 'charger') {
        const select = setting.outputs > 1 ? 'INST:NSEL 1;:' : ':';
        const probe = async (
          question: string,
          yes: (value: number) => string,
          no: string,
        ): Promise<void> => {
          try {
            lines.push(yes((await line.numbers(question, 1))[0] as number));
          } catch {
            ok = false;
            lines.push(no);
          }
        };
        await probe(
          `${select}MEAS:VOLT?`,
          (v) => `Output 1 reads ${v.toFixed(2)} V.`,
          'It measures no voltage: nothing can be watched.',
        );
        await probe(
          `${select}MEAS:TEMP?`,
          (t) => `It senses ${t.toFixed(1)} °C.`,
          'It senses no temperature: charge by hand here, with readings.',
        );
        await probe(
          `${select}OUTP:PROT:WDOG:DEL?`,
          () => 'It has a watchdog of its own.',
          'It has no watchdog: if this server died, its output would stay on.',
        );
      }
      return { ok, lines };
    } finally {
      line.close();
    }
  }

  close(): void {
    for (const client of this.#clients.values()) client.close();
  }
}
