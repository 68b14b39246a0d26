import { formatRise, formatTemperature } from '../quantities/format.ts';
import type { TemperatureUnit } from '../quantities/quantity.ts';
import type { Trip, TripFigures, TripKey } from './trips.ts';

/** How a shop says its temperatures: limits, what was read, and differences of it. */
interface Say {
  at: (celsius: number) => string;
  read: (celsius: number) => string;
  by: (celsius: number) => string;
}

interface Words<F> {
  title: string;
  /** What was seen, and what to do. */
  text: (figures: F, say: Say) => string;
}

const v = (volts: number): string => `${volts.toFixed(2)} V`;
const a = (amps: number): string => `${amps.toFixed(1)} A`;

/** Above its limit, or over the room: whichever it was. */
const howWarm = (
  { limitC, overRoomC = 0 }: { limitC?: number; overRoomC?: number },
  { at, by }: Say,
): string => (limitC === undefined ? `${by(overRoomC)} over the room` : `above ${at(limitC)}`);

const WORDS: { readonly [K in TripKey]: Words<TripFigures[K]> } = {
  hot: {
    title: 'Hot',
    text: (f, { at, read }) =>
      `${read(f.temperatureC)} is above ${at(f.limitC)}. Leave it alone until it is cold; suspect a short.`,
  },
  'heating-fast': {
    title: 'Heating fast',
    text: (f, { by }) => `It warmed by ${by(f.riseC)} within half an hour. Suspect a short.`,
  },
  reversed: {
    title: 'Reversed',
    text: (f) => `${v(f.voltageV)}: plus and minus are swapped. Nothing more goes in.`,
  },
  'over-volts': {
    title: 'Over the ceiling',
    text: (f) =>
      `${v(f.voltageV)} is above ${v(f.mostV)}, the ceiling and its slack. The charger does not hold its limit.`,
  },
  silent: {
    title: 'Silent instrument',
    text: (f) =>
      `No answer from the instrument for ${f.silentS.toFixed(0)} s. Its own watchdog switches the output off.`,
  },
  'frozen-reading': {
    title: 'Frozen reading',
    text: (f) =>
      `${f.readings} readings in a row are the same to the last digit. The instrument shows an old value; measure by hand.`,
  },
  'no-current': {
    title: 'No current',
    text: ({ askedA, burst }) =>
      burst
        ? `No burst for ${burst.quietS.toFixed(0)} s; one of ${a(askedA)} was due every ${burst.everyS} s. A lead is off, or a joint is open.`
        : `Next to no current flows of the ${a(askedA)} asked for. A lead is off, or a joint is open.`,
  },
  'no-rise': {
    title: 'Current but no rise',
    text: ({ ah, standsV, lowestV = 0, highestV = 0 }) =>
      standsV === undefined
        ? `${ah.toFixed(1)} Ah went in and the volts did not rise (${lowestV.toFixed(2)} to ${v(highestV)}). Suspect a shorted cell: feel each one.`
        : `${ah.toFixed(1)} Ah went in and it stands at ${v(standsV)}, lower than any sound cells with current in them. Suspect a shorted cell: feel each one.`,
  },
  'low-plateau': {
    title: 'Low by a cell',
    text: (f) =>
      `It stays at ${v(f.voltageV)}, ${f.shortV.toFixed(1)} V short of its ceiling, with its charge back in. One cell is not taking part: measure each.`,
  },
  'gassing-early': {
    title: 'Gassing early',
    text: (f) =>
      `${v(f.voltageV)} for ${Math.round(f.forS / 60)} min after only ${f.ah.toFixed(1)} of about ${f.missingAh.toFixed(0)} Ah. It is nearly full, or sulfated: look again, or take a slow restore.`,
  },
  warm: {
    title: 'Warm',
    text: (f, say) =>
      `${say.read(f.temperatureC)} is ${howWarm(f, say)}. It goes on by itself when it has cooled.`,
  },
  'over-time': {
    title: 'Over time',
    text: (f) =>
      `It has run for ${(f.ranS / 3600).toFixed(0)} h, longer than the plan's ${(f.plannedS / 3600).toFixed(0)} h, and is not done.`,
  },
  'output-off': {
    title: 'Output is off',
    text: () =>
      'The instrument has switched its output off by itself: its watchdog, its own protection, or a power cut. Look before it goes on.',
  },
  'still-on': {
    title: 'Still on',
    text: (f) =>
      `The output was told to be off and ${f.currentA.toFixed(2)} A still flow at ${v(f.voltageV)}. Pull the charger's plug.`,
  },
  'not-recorded': {
    title: 'Not recorded',
    text: () =>
      'Nothing can be written to the disk, so nothing is charged. Make room on it, then answer.',
  },
  interrupted: {
    title: 'Interrupted',
    text: (f) =>
      f.instrument
        ? 'The server stopped while it was charging. The output is off since within a few seconds of that; nothing that was measured is lost.'
        : `The server stopped while it was charging, and place ${f.place} has no instrument any more.`,
  },
  'hand-hot': {
    title: 'Hot',
    text: (f, { at, read }) =>
      `${read(f.temperatureC)} is hot, above ${at(f.limitC)}. Switch the charger off at the mains now and leave the battery alone.`,
  },
  'hand-heating-fast': {
    title: 'Heating fast',
    text: (f, { by }) =>
      `It warmed by ${by(f.riseC)} within half an hour. Switch the charger off; suspect a short.`,
  },
  'hand-warm': {
    title: 'Warm',
    text: (f, say) =>
      f.suspect
        ? `${say.read(f.temperatureC)} is ${howWarm(f, say)}. One that is recovered and gets this warm is suspected of a short: charger off, feel every cell.`
        : `${say.read(f.temperatureC)} is ${howWarm(f, say)}. Charger off, let it cool, then go on.`,
  },
  'hand-over-ceiling': {
    title: 'Over the ceiling',
    text: (f, { at }) =>
      `${v(f.voltageV)} is over the ceiling of ${v(f.ceilingV)} at ${at(f.temperatureC)}. Charger off, check its setting.`,
  },
  'hand-no-current': {
    title: 'No current',
    text: (f) =>
      `Next to no current flows of the ${a(f.setA)} set, and the volts are low. A lead is off, or the charger is unplugged.`,
  },
  'clips-reversed': {
    title: 'Reversed',
    text: (f) =>
      `The clips read ${v(f.voltageV)}: plus and minus are swapped, or the battery is reversed. Nothing was switched on.`,
  },
  'clips-open': {
    title: 'Nothing on the clips',
    text: (f) =>
      `The clips read ${v(f.voltageV)}: no battery on them, or an open one. Check both clips; measure at the posts.`,
  },
  'clips-too-much': {
    title: 'Another battery',
    text: (f) =>
      `The clips read ${v(f.voltageV)}, too much for a ${f.nominalV} V battery. This is another battery than the job's.`,
  },
  'clips-half': {
    title: 'Half the volts',
    text: (f) =>
      `The clips read ${v(f.voltageV)}. That is a full battery of half the voltage, or a 12 V battery of which half has failed: make sure which.`,
  },
  'clips-low': {
    title: 'Too low to start',
    text: (f) =>
      `${v(f.voltageV)} is below the ${f.startsV.toFixed(1)} V this charger starts from. It needs waking first.`,
  },
  'clips-warm': {
    title: 'Warm already',
    text: (f, { at }) =>
      `It is at ${at(f.temperatureC)} already. Let it cool below ${at(f.coolC)} first.`,
  },
  'clips-frozen': {
    title: 'Perhaps frozen',
    text: (f, { at }) =>
      `It is at ${at(f.temperatureC)}. Flat acid may be frozen: bring it into the warm first.`,
  },
  said: { title: '', text: (f) => f.text },
};

/** What a guard is called. */
export const tripTitle = (trip: Trip): string =>
  trip.key === 'said' ? trip.figures.title : WORDS[trip.key].title;

/** What was seen and what to do, in the shop's unit of temperature. */
export function tripText({ key, figures }: Trip, unit: TemperatureUnit): string {
  // An instrument reads to a tenth; a hand on the case, or a strip on it, does not.
  const decimals = key.startsWith('hand-') ? 0 : 1;
  const say: Say = {
    at: (celsius) => formatTemperature(celsius, unit),
    read: (celsius) => formatTemperature(celsius, unit, decimals),
    by: (celsius) => formatRise(celsius, unit, decimals),
  };
  // Figures are those of the key; the compiler does not follow that through the table.
  return (WORDS[key] as Words<unknown>).text(figures, say);
}
