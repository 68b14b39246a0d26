import { defineStep } from '../step.ts';

/** Rest voltage on arrival, before anything is done to it. */
export const arrival = defineStep({ kind: 'arrival', inTray: 'each', ends: { by: ['arrival'] } });

/** Rest voltage after the charge. */
export const measure = defineStep({
  kind: 'measure',
  inTray: 'each',
  rested: true,
  ends: { by: ['rest'] },
});

/** Volts under load, or the CCA by an analyser. */
export const load = defineStep({
  kind: 'load',
  takes: 'load-tester',
  inTray: 'each',
  rested: true,
  ends: { by: ['load', 'analyser'] },
});

/** SG of every cell; levels alone do not end it. */
export const cells = defineStep({
  kind: 'cells',
  takes: 'hydrometer',
  inTray: 'each',
  ends: {
    by: ['cells'],
    whole: (reading) => reading.cells?.every((c) => c.specificGravity !== undefined) ?? false,
  },
});

/** Rest voltage after a week on the shelf. */
export const holdMeasure = defineStep({
  kind: 'hold-measure',
  inTray: 'each',
  ends: { by: ['hold'] },
});
