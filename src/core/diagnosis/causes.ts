/** What can be the matter with a battery. More than one may hold; the order is that of consequence, gravest first. */
export const CAUSES = {
  damaged: { name: 'Frozen or damaged', plain: 'Plates or case are broken. It is never charged.' },
  reversed: { name: 'Reversed', plain: 'A cell, or all of it, was charged the wrong way round.' },
  shorted: {
    name: 'Shorted cell',
    plain: 'A cell empties itself through a short inside it. No charge helps.',
  },
  joint: {
    name: 'Bad joint or open',
    plain: 'A connection inside has come loose: volts without amperes.',
  },
  weak: {
    name: 'Weak cell',
    plain: 'One cell holds much less than its neighbours, and sets the end for all.',
  },
  dry: { name: 'Dry', plain: 'Water has gone; what acid does not reach does not work.' },
  worn: { name: 'Worn', plain: 'Active mass has gone from the plates for good.' },
  hard: {
    name: 'Sulfated, hard',
    plain: 'Much of the plates is held by crystals that come back slowly, if at all.',
  },
  layered: {
    name: 'Layered acid',
    plain: 'Strong acid lies at the bottom, weak at the top; mix it.',
  },
  light: {
    name: 'Sulfated, light',
    plain: 'Some sulfate has hardened; slow charging brings most of it back.',
  },
  undercharged: {
    name: 'Undercharged by its machine',
    plain: 'It has not been full for months; the machine needs a look too.',
  },
  deep: {
    name: 'Deeply discharged',
    plain: 'Emptied to the last, and left so. It has to be woken before it takes a charge.',
  },
  flat: { name: 'Simply flat', plain: 'It needs a full charge and nothing else.' },
  sound: { name: 'Sound', plain: 'Nothing its readings show is wrong with it.' },
} as const;

export type CauseKey = keyof typeof CAUSES;
export const CAUSE_KEYS = Object.keys(CAUSES) as CauseKey[];
