/** Why a procedure is as it is, and the slips that cost a battery; its steps stand in the catalogue. */
export interface ProcedurePage {
  key: string;
  title: string;
  /** A kind and a job type it is shown by. */
  kind: 'agm-dry' | 'flooded-dry' | 'agm-sealed' | 'gel' | 'flooded-sealed';
  purpose: 'commission' | 'recharge' | 'recover' | 'service' | 'display';
  why: string;
  slips: readonly string[];
}

export const PROCEDURE_PAGES: readonly ProcedurePage[] = [
  {
    key: 'do-commission-agm-dry',
    title: 'Commission a dry-charged AGM',
    kind: 'agm-dry',
    purpose: 'commission',
    why: 'The plates are charged and dry. Acid wakes them, but only to about 80 %. The mats soak it up slowly, so it stands twice: once with the pack on, once after. A charge fills the rest.',
    slips: [
      'Filled from the wrong pack: too little acid dries the mats, too much drowns them. Match the code.',
      'Charged before it has soaked: dry spots on the plates never come back.',
      'Cap strip pressed on too early: the gas of the first charge has no way out.',
      'Sold straight after filling: it reads 12.5 V and holds four fifths.',
    ],
  },
  {
    key: 'do-commission-flooded-dry',
    title: 'Commission a dry-charged conventional battery',
    kind: 'flooded-dry',
    purpose: 'commission',
    why: 'Each cell is filled by hand to the upper mark. The plates take up acid, so the level falls; top it up with the same acid. After the first charge only water goes in.',
    slips: [
      'Acid not measured: 0.010 off in the can is 0.010 off in every cell.',
      'Vent hose kinked or its plug left in: the case bulges.',
      'Filled over the mark: the acid rises when it gasses, and runs out.',
      'Topped up with acid later: the cell gets too strong.',
    ],
  },
  {
    key: 'do-commission-agm-sealed',
    title: 'Commission a filled AGM',
    kind: 'agm-sealed',
    purpose: 'commission',
    why: 'It was filled and charged at the works, then it stood. The voltage as it comes tells how long, and how much charge it needs.',
    slips: [
      'Handed over unmeasured: a year on a shelf costs half its charge.',
      'Charged at 15 V or more: it gasses, and lost water cannot be put back.',
      'Measured just off the charger: wait the rest, or the reading is too high.',
    ],
  },
  {
    key: 'do-commission-gel',
    title: 'Commission a gel battery',
    kind: 'gel',
    purpose: 'commission',
    why: 'Gel has a lower ceiling than AGM. Over it, gas tears channels in the gel, and they stay.',
    slips: [
      'Taken for an AGM: they look the same. Read the label, and when in doubt use the gel ceiling.',
      'Fast charge for a customer who waits: heat harms gel first.',
    ],
  },
  {
    key: 'do-commission-flooded-sealed',
    title: 'Commission a closed flooded or EFB battery',
    kind: 'flooded-sealed',
    purpose: 'commission',
    why: 'It comes filled. There is no way to look in, so voltage, a charge and a load test have to tell.',
    slips: [
      'Trusting the eye in the lid: it shows one cell of six.',
      'Tilting it until acid finds the vent.',
    ],
  },
  {
    key: 'do-recharge',
    title: 'Recharge shelf stock',
    kind: 'agm-sealed',
    purpose: 'recharge',
    why: 'A battery that stands loses charge, and plates that stand half empty go hard. Charge before 12.4 V, not after the customer asks.',
    slips: [
      'Charging every battery by the calendar: read first, some need nothing.',
      'Newest sold first: the oldest grows old on the shelf.',
    ],
  },
  {
    key: 'do-service',
    title: 'Service twice a year',
    kind: 'flooded-dry',
    purpose: 'service',
    why: 'Clean posts, the right level and a full charge before winter and before summer. It is the cheapest year a battery can get.',
    slips: ['Water added to a flat battery: it overflows on charge. Charge first.'],
  },
  {
    key: 'do-recover',
    title: 'Recover a flat or sulfated battery',
    kind: 'flooded-dry',
    purpose: 'recover',
    why: 'First find out what it has: only flat, sulfated, a dead cell, dry, worn. Each has its own way, and some have none. Then one way is tried, and measured before and after. What cannot be brought back goes to the recycler.',
    slips: [
      'Pulsing a battery with a shorted cell: days lost, and it gets hot.',
      'Charging a bulged or frozen one: stop. It goes out, not on.',
      'Calling it good because it cranks: CCA comes back before capacity does.',
      'No second look a week later: a bad cell shows when it stands.',
    ],
  },
];
