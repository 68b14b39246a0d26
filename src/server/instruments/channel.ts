import type { TriedInstrument } from '../../contract/wire.ts';
import type { FittedStage } from '../../core/charging/fitPlan.ts';
import type { Demand } from '../../core/charging/runPlan.ts';
import { instrumentAt, type InstrumentSetting } from '../../core/house/instruments.ts';
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

/** One output of an instrument, and how to speak to it. An instrument of one output knows no numbers. */
interface Line {
  client: ScpiClient;
  select: string;
}

/** One clip of a real (or stand-in) instrument: a charger's output, and a load's where there is one. */
export class Channel {
  /** What the instruments were last told; empty when that is not certain. */
  #told = '';

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
    const asked = async (question: string): Promise<number> => ((await client.numbers(`${select}${question}`, 1).catch(() => [])) as number[])[0] ?? Number.NaN;
    await this.off();
    await client.tell(`*CLS;${select}OUTP:PROT:WDOG:DEL ${WATCHDOG_S};:OUTP:PROT:WDOG ON`);
    await client.numbers(`${select}MEAS:VOLT?`, 1);
    const missing: string[] = [];
    if ((await asked('OUTP:PROT:WDOG:DEL?')) !== WATCHDOG_S) missing.push('It has no watchdog of its own, which switches off when nobody speaks to it.');
    if (Number.isNaN(await asked('MEAS:TEMP?'))) missing.push('It senses no temperature.');
    if (needs.pulses && Number.isNaN(await asked('PULS:WIDT?'))) missing.push('It cannot pulse, and the plan does.');
    return missing;
  }

  async measure(): Promise<ChannelReading> {
    const { client, select } = this.charger;
    const [voltageV, currentA, temperatureC, on] = (await client.numbers(`${select}MEAS:VOLT?;:MEAS:CURR?;:MEAS:TEMP?;:OUTP?`, 4)) as Four;
    if (!this.load || !this.#told.startsWith('load')) return { voltageV, currentA, temperatureC, on: on !== 0 };
    const [amps, input] = (await this.load.client.numbers(`${this.load.select}MEAS:CURR?;:INP?`, 2)) as [number, number];
    return { voltageV, currentA: -amps, temperatureC, on: input !== 0 };
  }

  /** Makes the instruments do what a stage demands; says nothing twice. */
  async drive(demand: Demand, stage: FittedStage | null): Promise<void> {
    const pulsing = stage?.do === 'pulse';
    if (!stage || (demand.currentA === 0 && !pulsing)) {
      if (!this.isOff) await this.off();
      return;
    }
    const discharging = demand.currentA < 0;
    // The instrument times the bursts itself; compensation moves the ceiling by steps of a hundredth.
    const amps = (discharging ? -demand.currentA : stage.currentA).toFixed(3);
    const volts = (pulsing ? stage.limitV : demand.limitV).toFixed(2);
    const wanted = `${discharging ? 'load' : 'charge'} ${amps} ${volts} ${pulsing ? `${stage.onS}/${stage.offS}` : ''}`;
    if (wanted === this.#told) return;
    if (this.#told.split(' ')[0] !== wanted.split(' ')[0]) await this.off();
    this.#told = '';
    if (discharging) {
      if (!this.load) throw new InstrumentError('This place has no electronic load to discharge with.');
      // The load's own cut-off stands a little lower: it is there for a server that died.
      const { client, select } = this.load;
      await client.tell(`${select}CURR ${amps};:VOLT:PROT ${(demand.limitV - 0.1).toFixed(3)};:INP ON`);
    } else {
      const pulse = pulsing ? `:PULS:WIDT ${stage.onS};:PULS:PER ${stage.onS + stage.offS};:PULS ON;` : ':PULS OFF;';
      await this.charger.client.tell(`${this.charger.select}VOLT ${volts};:CURR ${amps};${pulse}:OUTP ON`);
    }
    this.#told = wanted;
  }

  /** Switches everything off and has it confirmed. @throws InstrumentError when that is not certain */
  async off(): Promise<void> {
    const loaded = this.#told.startsWith('load');
    this.#told = '';
    await switchOff(this.charger, 'OUTP');
    // A load that was not in use may be away altogether.
    if (this.load) await switchOff(this.load, 'INP').catch((error: unknown) => (loaded ? Promise.reject(error as Error) : undefined));
    this.#told = 'off';
  }
}

async function switchOff({ client, select }: Line, turn: 'OUTP' | 'INP'): Promise<void> {
  const [still] = await client.numbers(`${select}${turn} OFF;:${turn}?`, 1);
  if (still !== 0) throw new InstrumentError(`The instrument at ${client.host}:${client.port} was told to switch off and has not.`);
}

type Four = [number, number, number, number];

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
  channel(settings: readonly InstrumentSetting[], place: number): { channel: Channel; charger: InstrumentSetting } | null {
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
      const lines = [await line.ask('*IDN?')];
      let ok = true;
      if (setting.kind === 'charger') {
        const select = setting.outputs > 1 ? 'INST:NSEL 1;:' : ':';
        const probe = async (question: string, yes: (value: number) => string, no: string): Promise<void> => {
          try {
            lines.push(yes((await line.numbers(question, 1))[0] as number));
          } catch {
            ok = false;
            lines.push(no);
          }
        };
        await probe(`${select}MEAS:VOLT?`, (v) => `Output 1 reads ${v.toFixed(2)} V.`, 'It measures no voltage: nothing can be watched.');
        await probe(`${select}MEAS:TEMP?`, (t) => `It senses ${t.toFixed(1)} °C.`, 'It senses no temperature: charge by hand here, with readings.');
        await probe(
          `${select}OUTP:PROT:WDOG:DEL?`,
          () => 'It has a watchdog of its own.',
          'It has no watchdog: if this server died, its output would stay on.',
        );
      }
      return { ok, lines };
    } catch (error) {
      return { ok: false, lines: [(error as Error).message] };
    } finally {
      line.close();
    }
  }

  close(): void {
    for (const client of this.#clients.values()) client.close();
  }
}
