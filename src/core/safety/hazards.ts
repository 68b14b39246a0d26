/** Cautions, written once and shown where they bite. */
export type HazardKey = 'acid' | 'hydrogen' | 'shorts' | 'heat' | 'pressure' | 'waste' | 'maker';

export const HAZARDS: Readonly<Record<HazardKey, { title: string; text: string }>> = {
  acid: {
    title: 'Acid',
    text: 'Goggles, gloves, apron. Eyewash and bicarbonate within reach. Acid in an eye or swallowed: water for minutes, then a doctor.',
  },
  hydrogen: {
    title: 'Hydrogen',
    text: 'Ventilate. No sparks, no flame, no rings. Charger off before clips go on or come off.',
  },
  shorts: {
    title: 'Short circuit',
    text: 'A dropped spanner carries hundreds of amperes. Positive on first and off last on the bench.',
  },
  heat: {
    title: 'Heat',
    text: 'Warm to the hand: pause, let it cool, go on. Hot: stop. Charger off at the mains before you touch a clip.',
  },
  pressure: {
    title: 'Pressure',
    text: 'Never press the strip down before or during the charge: gas must get out. Never hammer it.',
  },
  waste: {
    title: 'Waste acid',
    text: 'Hazardous waste. A closed, labelled drum in a tub; to a licensed recycler with its paper. Never down a drain, neutralised or not.',
  },
  maker: {
    title: 'Maker first',
    text: "The maker's sheet and local rules come before anything written here.",
  },
};
