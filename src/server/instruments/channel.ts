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

/** One clip of a real (or stand-in) instrument: a charger's output, and a load's where there is one. */
export class Channel {
  #sent = '';

  constructor(
    private readonly charger: ScpiClient,
    private readonly output: number,
    private readonly load: { client: ScpiClient; output: number } | null,
  ) {}

  get discharges(): boolean {
    return this.load !== null;
  }

  /** Output off, watchdog armed; says what an instrument lacks to be trusted with a charge. */
  async prepare(): Promise<string[]> {
    await this.off();
    await this.charger.tell(`*CLS;:INST:NSEL ${this.output};:OUTP:PROT:WDOG:DEL ${WATCHDOG_S}`);
    const [delay] = await this.charger.numbers('OUTP:PROT:WDOG:DEL?', 1).catch(() => [Number.NaN]);
    const [temperature] = await this.charger.numbers('MEAS:TEMP?', 1).catch(() => [Number.NaN]);
    const missing: string[] = [];
    if (delay !== WATCHDOG_S) missing.push('It has no watchdog of its own, which switches off when nobody speaks to it.');
    if (!Number.isFinite(temperature)) missing.push('It senses no temperature.');
    return missing;
  }

  async measure(): Promise<ChannelReading> {
    const [voltageV, currentA, temperatureC, on] = (await this.charger.numbers(`INST:NSEL ${this.output};:MEAS:VOLT?;:MEAS:CURR?;:MEAS:TEMP?;:OUTP?`, 4)) as [
      number,
      number,
      number,
      number,
    ];
    if (!this.load || !this.#sent.startsWith('load')) return { voltageV, currentA, temperatureC, on: on !== 0 };
    const [amps, input] = (await this.load.client.numbers(`INST:NSEL ${this.load.output};:MEAS:CURR?;:INP?`, 2)) as [number, number];
    return { voltageV, currentA: -amps, temperatureC, on: input !== 0 };
  }

  /** Makes the instruments do what a stage demands; says nothing twice. */
  async drive(demand: Demand, stage: FittedStage): Promise<void> {
    if (demand.currentA < 0) {
      if (!this.load) throw new InstrumentError('This place has no electronic load to discharge with.');
      const wanted = `load ${(-demand.currentA).toFixed(3)} ${demand.limitV.toFixed(2)}`;
      if (wanted === this.#sent) return;
      await this.off();
      await this.load.client.tell(
        `INST:NSEL ${this.load.output};:CURR ${(-demand.currentA).toFixed(3)};:VOLT:PROT ${(demand.limitV - 0.1).toFixed(3)};:INP ON`,
      );
      this.#sent = wanted;
      return;
    }
    const pulsing = stage.do === 'pulse';
    if (demand.currentA === 0 && !pulsing) {
      if (this.#sent !== 'off') await this.off();
      return;
    }
    // The instrument times the bursts itself; compensation moves the ceiling by steps of a hundredth.
    const wanted = `${stage.currentA.toFixed(3)} ${(pulsing ? stage.limitV : demand.limitV).toFixed(2)} ${pulsing ? `${stage.onS}/${stage.offS}` : ''}`;
    if (wanted === this.#sent) return;
    if (this.#sent.startsWith('load')) await this.off();
    const volts = (pulsing ? stage.limitV : demand.limitV).toFixed(3);
    const pulse = pulsing ? `:PULS:WIDT ${stage.onS};:PULS:PER ${stage.onS + stage.offS};:PULS ON` : ':PULS OFF';
    await this.charger.tell(`INST:NSEL ${this.output};:VOLT ${volts};:CURR ${stage.currentA.toFixed(3)};${pulse};:OUTP ON`);
    this.#sent = wanted;
  }

  async off(): Promise<void> {
    this.#sent = '';
    await this.charger.tell(`INST:NSEL ${this.output};:OUTP OFF`);
    if (this.load) await this.load.client.tell(`INST:NSEL ${this.load.output};:INP OFF`);
    this.#sent = 'off';
  }
}

/** Every instrument of the house, each spoken to through one line. */
export class Instruments {
  readonly #clients = new Map<string, ScpiClient>();

  client({ host, port }: Pick<InstrumentSetting, 'host' | 'port'>): ScpiClient {
    const key = `${host}:${port}`;
    const known = this.#clients.get(key) ?? new ScpiClient(host, port);
    this.#clients.set(key, known);
    return known;
  }

  /** The channel of a place with a line of its own, or null where charges are run by hand. */
  channel(settings: readonly InstrumentSetting[], place: number): { channel: Channel; charger: InstrumentSetting } | null {
    const charger = instrumentAt(settings, 'charger', place);
    if (!charger) return null;
    const load = instrumentAt(settings, 'load', place);
    const channel = new Channel(this.client(charger.setting), charger.output, load && { client: this.client(load.setting), output: load.output });
    return { channel, charger: charger.setting };
  }

  /** Does it answer, and can it be trusted with a charge? Switches nothing on, and nothing off. */
  async tryOut(setting: InstrumentSetting): Promise<TriedInstrument> {
    const line = new ScpiClient(setting.host, setting.port, 1000);
    try {
      const lines = [await line.ask('*IDN?')];
      let ok = true;
      if (setting.kind === 'charger') {
        const probe = async (question: string, yes: (value: number) => string, no: string): Promise<void> => {
          try {
            lines.push(yes((await line.numbers(question, 1))[0] as number));
          } catch {
            ok = false;
            lines.push(no);
          }
        };
        await probe('INST:NSEL 1;:MEAS:VOLT?', (v) => `Output 1 reads ${v.toFixed(2)} V.`, 'It measures no voltage: nothing can be watched.');
        await probe('MEAS:TEMP?', (t) => `It senses ${t.toFixed(1)} °C.`, 'It senses no temperature: charge by hand here, with readings.');
        await probe('OUTP:PROT:WDOG:DEL?', () => 'It has a watchdog of its own.', 'It has no watchdog: if this server died, its output would stay on.');
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
