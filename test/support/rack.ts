import type { InstrumentSetting } from '../../src/core/house/instruments.ts';
import { type DemoRack, RACK_PLACES, rackSettings } from '../../src/server/demo/standInRack.ts';
import { type Mischief } from '../../src/standins/place.ts';
import { Rack } from '../../src/standins/rack.ts';
import { type RackServers, serveRack } from '../../src/standins/servers.ts';

/** The stand-ins inside a test: spoken to over TCP as ever, their time in the test's hand. */
export class TestRack implements DemoRack {
  /** Machine time for the watchdogs, ms. */
  machine = 0;
  private constructor(
    readonly rack: Rack,
    readonly servers: RackServers,
  ) {}

  /** @param bench bench time of the test, ms */
  static async open(bench: () => number, places = RACK_PLACES): Promise<TestRack> {
    const machine = { now: () => 0 };
    const rack = new Rack(places, { bench, machine: () => machine.now() });
    const opened = new TestRack(rack, await serveRack(rack, 0));
    machine.now = () => opened.machine;
    return opened;
  }

  readonly clipOn: DemoRack['clipOn'] = (place, battery) =>
    Promise.resolve(this.rack.clip(place, battery as never));
  setRate = (): Promise<void> => Promise.resolve();
  /** Bench time is the test's own; the rack only catches up. */
  advance = (): Promise<void> => Promise.resolve(this.rack.advance());
  misbehave = (place: number, mischief: string, on: boolean): Promise<void> =>
    Promise.resolve(this.rack.setMischief(place, mischief as Mischief, on));
  settings = (): InstrumentSetting[] =>
    rackSettings((kind) => this.servers.ports[kind], this.rack.places.length);
  close = (): Promise<void> => this.servers.close();
}
