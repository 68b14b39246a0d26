import { randomUUID } from 'node:crypto';
import type { InstrumentKind, InstrumentSetting } from '../../core/house/instruments.ts';
import { type Context, readRules, writeRules } from '../context.ts';
import type { DemoHands, LiveBench } from '../live/liveBench.ts';
import type { LiveStory } from './seed.ts';

/** What the demo asks of its stand-ins besides SCPI; no shop has this. */
export interface DemoRack extends DemoHands {
  advance: (seconds: number) => Promise<void>;
  misbehave: (place: number, mischief: string, on: boolean) => Promise<void>;
  settings: () => InstrumentSetting[];
}

/** The instruments of a rack and what serves every place; the port of each follows from the rack's own. */
export function rackSettings(
  portOf: (kind: InstrumentKind, index: number) => number,
  places: number,
): InstrumentSetting[] {
  const kinds: [InstrumentKind, string][] = [
    ['charger', 'Rack charger'],
    ['load', 'Rack load'],
    ['meter', 'Bench meter'],
    ['hydrometer', 'Hydrometer'],
    ['analyser', 'Analyser'],
    ['scale', 'Scale'],
  ];
  return kinds.map(([kind, name], i) => ({
    id: `rack-${kind}`,
    name,
    kind,
    host: '127.0.0.1',
    port: portOf(kind, i),
    firstPlace: 1,
    outputs: places,
    mostA: 20,
    mostV: 32,
    leastStartV: kind === 'charger' ? 2 : 0,
  }));
}

export const RACK_PLACES = 8;

/** The demo's stand-ins in their own process, as the server reaches them: by their control page. */
export class StandInRack implements DemoRack {
  constructor(private readonly port: number) {}

  async #post(path: string, body: unknown): Promise<void> {
    const response = await fetch(`http://127.0.0.1:${this.port}${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`The stand-ins refused: ${await response.text()}`);
  }

  /** Waits until they are up. */
  async ready(tries = 60): Promise<boolean> {
    for (let i = 0; i < tries; i++) {
      const up = await fetch(`http://127.0.0.1:${this.port}/state`).then(
        (r) => r.ok,
        () => false,
      );
      if (up) return true;
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
    return false;
  }

  readonly clipOn: DemoHands['clipOn'] = (place, battery) =>
    this.#post('/clip', { place, ...battery });
  setRate = (rate: number): Promise<void> => this.#post('/rate', { rate });
  advance = (seconds: number): Promise<void> => this.#post('/advance', { seconds });
  misbehave = (place: number, mischief: string, on: boolean): Promise<void> =>
    this.#post('/mischief', { place, mischief, on });
  settings = (): InstrumentSetting[] => rackSettings((_, i) => this.port + 1 + i, RACK_PLACES);
}

/** Puts the stand-ins into the demo's rules at the ports they have today. */
export async function plugInRack(context: Pick<Context, 'store'>, rack: DemoRack): Promise<void> {
  const rules = await readRules(context.store);
  const shopsOwn = rules.instruments.filter((i) => !i.id.startsWith('rack-'));
  const plugged = { ...rules, instruments: [...rack.settings(), ...shopsOwn] };
  await context.store.write((transaction) => writeRules(context.store, plugged, transaction));
}

const STEP_S = 60;

/** Plays the live charges of the demo's past on the stand-ins, in their own time, up to the demo's hour. */
export async function seedLive(
  stories: readonly LiveStory[],
  rack: DemoRack,
  live: LiveBench,
  clock: { set: (at: number) => void },
  start: number,
): Promise<void> {
  const [first] = stories.toSorted((a, b) => a.at - b.at);
  if (!first) return;
  await rack.setRate(0);
  const due = stories.flatMap((story) => [
    {
      at: story.at,
      act: () =>
        live.start(story.jobId, {
          commandId: randomUUID(),
          by: story.by,
          stepId: story.stepId,
          place: story.place,
          charge: 0.8,
        }),
    },
    ...(story.mischief
      ? [
          {
            at: story.mischief.from,
            act: () => rack.misbehave(story.place, story.mischief?.what ?? '', true),
          },
        ]
      : []),
    ...(story.mischief
      ? [
          {
            at: story.mischief.to,
            act: () => rack.misbehave(story.place, story.mischief?.what ?? '', false),
          },
        ]
      : []),
  ]);
  due.sort((a, b) => a.at - b.at);
  for (let at = first.at; at < start; at += STEP_S * 1000) {
    clock.set(at);
    while (due[0] && due[0].at <= at) await due.shift()?.act();
    await rack.advance(STEP_S);
    await live.tick();
  }
  clock.set(start);
}
