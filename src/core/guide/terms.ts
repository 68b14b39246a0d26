/** A term of the trade in plain words, for somebody in the second week. */
export interface Term {
  key: string;
  term: string;
  text: string;
  /** Other entries that help. */
  see?: readonly string[];
}

export const TERMS: readonly Term[] = [
  {
    key: 'voltage',
    term: 'Voltage',
    text: 'What a meter shows across the posts. It tells how full a battery is only when it has rested. On charge it is higher, under load it is lower.',
    see: ['rest-voltage', 'surface-charge'],
  },
  {
    key: 'rest-voltage',
    term: 'Rest voltage (OCV)',
    text: 'The voltage with nothing connected, after a rest. A full flooded battery reads about 12.65 V, a full AGM about 12.85 V. Half of it for 6 V.',
    see: ['surface-charge', 'state-of-charge'],
  },
  {
    key: 'surface-charge',
    term: 'Surface charge',
    text: 'After a charge or a drive the voltage reads too high for some hours. The plates are fuller on the outside than inside. Wait about four hours, or take a small load for a minute, then read again.',
    see: ['rest-voltage'],
  },
  {
    key: 'state-of-charge',
    term: 'State of charge',
    text: 'How full the battery is now, in per cent. 12.4 V at rest is about three quarters. A full battery can still be worn out: that is capacity.',
    see: ['capacity', 'rest-voltage'],
  },
  {
    key: 'capacity',
    term: 'Capacity',
    text: 'How much charge it gives from full to empty, in Ah. Only a capacity test shows it: a steady load, a clock, and the voltage where it ends.',
    see: ['c20', 'state-of-charge'],
  },
  {
    key: 'c20',
    term: 'C20',
    text: 'The capacity in Ah when the battery is emptied in 20 hours. A 60 Ah battery gives 3 A for 20 hours. At a higher current it gives less.',
    see: ['c-rate', 'capacity'],
  },
  {
    key: 'c-rate',
    term: 'C/10, C/20',
    text: 'A current told by the size of the battery. C/10 of 60 Ah is 6 A. New batteries are charged with about C/10.',
    see: ['c20'],
  },
  {
    key: 'cca',
    term: 'CCA',
    text: 'Cold cranking amps: the current it gives in hard cold to start an engine. EN, SAE, DIN, IEC and JIS are different tests. Compare only the same standard.',
    see: ['load-test'],
  },
  {
    key: 'reserve',
    term: 'Reserve capacity (RC)',
    text: 'How many minutes a battery gives 25 A before it falls to 10.5 V. Half of it and 15.5 more is about its C20.',
    see: ['c20'],
  },
  {
    key: 'load-test',
    term: 'Load test',
    text: 'Three times C20 for 15 seconds. A good 12 V battery stays above 9.6 V at 21 °C. It must be charged and rested first, or it fails only because it is flat.',
    see: ['cca'],
  },
  {
    key: 'sg',
    term: 'SG',
    text: 'Specific gravity: how heavy the acid is against water. Full acid is about 1.265, empty about 1.10. Warm acid reads low: add 0.0007 for each °C above 25 °C.',
    see: ['hydrometer', 'layering'],
  },
  {
    key: 'hydrometer',
    term: 'Hydrometer',
    text: 'A glass float that shows the SG. Read it at eye level, at the flat of the liquid. One low cell among good ones means a bad cell.',
    see: ['sg'],
  },
  {
    key: 'flooded',
    term: 'Flooded',
    text: 'Liquid acid around the plates. It gasses when full and loses water. Only distilled water goes in after the first charge.',
    see: ['agm', 'efb', 'gassing'],
  },
  {
    key: 'agm',
    term: 'AGM',
    text: 'The acid is held in glass mats. Sealed, spill-proof, never opened. It needs a higher charge voltage than flooded, about 14.7 V, and must not gas.',
    see: ['gel', 'flooded'],
  },
  {
    key: 'gel',
    term: 'Gel',
    text: 'The acid is a stiff gel. Its ceiling is lower, about 14.1 V. Too much voltage makes holes in the gel that never close.',
    see: ['agm'],
  },
  {
    key: 'efb',
    term: 'EFB',
    text: 'A stronger flooded battery for cars that stop their engine. It is charged like a flooded one.',
    see: ['flooded'],
  },
  {
    key: 'dry-charged',
    term: 'Dry-charged',
    text: 'Made and charged, then stored without acid. It is filled in the shop. Once wet it loses charge for ever, so it is charged at once.',
    see: ['soak'],
  },
  {
    key: 'soak',
    term: 'Soak',
    text: 'The wait after filling. The plates take up the acid and the battery warms a little. A charge before that heats and harms it.',
    see: ['dry-charged'],
  },
  {
    key: 'ceiling',
    term: 'Ceiling',
    text: 'The highest voltage a charge may reach. It depends on the kind, and falls when the battery is warm.',
    see: ['tail', 'gassing'],
  },
  {
    key: 'tail',
    term: 'Tail current',
    text: 'At the ceiling the current falls. When it is below C/50 and no longer falls, the battery is full.',
    see: ['ceiling', 'green-light'],
  },
  {
    key: 'green-light',
    term: 'Green light',
    text: 'The charger’s own opinion that the battery is full. A sulfated battery turns it green at once, with little charge in it. Rest the battery and measure.',
    see: ['tail', 'sulfation'],
  },
  {
    key: 'float',
    term: 'Float',
    text: 'A low voltage that keeps a full battery full, about 13.5 V. It does not fill an empty one.',
    see: ['ceiling'],
  },
  {
    key: 'gassing',
    term: 'Gassing',
    text: 'A full battery turns water into hydrogen and oxygen. Hydrogen burns and explodes. Let air in, keep sparks away, charger off before the clips come off.',
    see: ['ceiling'],
  },
  {
    key: 'sulfation',
    term: 'Sulfation',
    text: 'A battery that stays low grows hard crystals on its plates. They block the current. A slow charge for days may bring some of it back; time makes it worse.',
    see: ['desulfation', 'green-light'],
  },
  {
    key: 'desulfation',
    term: 'Desulfation',
    text: 'Taking the hard crystals back: a small current for a long time, or short pulses. Test before and after. Not every battery comes back.',
    see: ['sulfation'],
  },
  {
    key: 'layering',
    term: 'Layered acid',
    text: 'Heavy acid sinks when a battery is never gassed. The top reads weak, the bottom is strong. A short charge with bubbles mixes it.',
    see: ['sg', 'gassing'],
  },
  {
    key: 'shorted-cell',
    term: 'Shorted cell',
    text: 'One cell is dead: it stays about 2 V low and gets warm. 10.5 V after a full charge is its sign. Nothing helps; recycle it.',
    see: ['open-cell'],
  },
  {
    key: 'open-cell',
    term: 'Open cell',
    text: 'A joint inside is broken. The voltage may look fine, and falls to nothing under load. It can spark inside: no load while gas stands.',
    see: ['shorted-cell'],
  },
  {
    key: 'reversed',
    term: 'Reversed',
    text: 'Plus and minus are the wrong way round, in one cell or the whole battery. It comes from a charger put on wrong, or from draining too far. Recycle it.',
  },
  {
    key: 'waking',
    term: 'Waking',
    text: 'A battery below about 10.5 V is not seen by many chargers. Beside a good donor, or on a simple charger, it takes current first. Feel every cell each hour.',
    see: ['donor'],
  },
  {
    key: 'donor',
    term: 'Donor',
    text: 'A good battery put beside a flat one, plus to plus and minus to minus. A large current rushes at first: thick leads, last clip away from the battery.',
    see: ['waking'],
  },
  {
    key: 'resistance',
    term: 'Internal resistance',
    text: 'What holds the current back inside, in mΩ. It grows when plates sulfate, dry out or break. An analyser shows it in a second.',
    see: ['cca'],
  },
  {
    key: 'self-discharge',
    term: 'Self-discharge',
    text: 'A battery that stands loses charge: about 3 to 8 % a month at 20 °C, twice as fast for each 10 °C more. Check it each month.',
    see: ['rest-voltage'],
  },
  {
    key: 'hold',
    term: 'Hold test',
    text: 'A week on the shelf with nothing connected. A healthy battery loses little. One with a leak inside shows it now.',
    see: ['self-discharge'],
  },
  {
    key: 'date-code',
    term: 'Date code',
    text: 'When the battery was made, stamped or printed. Old stock goes out first.',
  },
  {
    key: 'dwell',
    term: 'Stand of the pack',
    text: 'A pack of tubes stays on the battery until every tube is empty: 30 minutes up to 12 Ah, an hour above. Then the battery soaks for two hours.',
    see: ['soak'],
  },
  {
    key: 'only-flat',
    term: 'Only flat',
    text: 'It was emptied and nothing else is wrong. It takes a full charge and reads 12.6 V or more a day later, its cells even. Do not let it stand: flat plates sulfate within weeks.',
    see: ['state-of-charge', 'sulfation'],
  },
  {
    key: 'worn-out',
    term: 'Worn out',
    text: 'The paste has left its plates. It charges soon, reads full, its acid is even, and yet it gives little: under load it drops, and a capacity test ends early. No charge brings paste back.',
    see: ['capacity', 'load-test'],
  },
  {
    key: 'weak-cell',
    term: 'Weak cell',
    text: 'One cell holds less than the others. It is empty first and pulls all down at a stroke. After a full charge its acid reads 0.050 or more below the others. Recycle it.',
    see: ['sg', 'shorted-cell'],
  },
  {
    key: 'dry',
    term: 'Dry',
    text: 'Water has gone. What the acid does not reach does not work. An open one shows bare plates. A closed one loses weight and strength, though its volts still look good.',
    see: ['cca', 'gassing'],
  },
  {
    key: 'never-charge',
    term: 'Never charge',
    text: 'Frozen, cracked, bulged, leaking, or lithium. It may burst or burn on a charger. Set it apart, mark it, and give it to who takes it back.',
  },
];
