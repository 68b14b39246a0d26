import { CHEMISTRIES, type ChemistryKey, forCells } from '../batteries/chemistry.ts';
import type { ChargerKind, ChargerProgram, ChargerSetting } from './charger.ts';

/**
 * What a charger does by itself with a battery, one phase after another. Usual ones of their kind, of no maker: how each
 * is built differs, and its own sheet comes first. A V of the whole battery; A.
 */
export type Phase =
  /** A transformer: the current falls as the voltage rises. Nothing in it ends the charge. */
  | { does: 'line'; line: SourceLine }
  /** Its current until its ceiling is reached; a timer may find that it takes too long. */
  | { does: 'bulk'; amps: number; ceilingV: number; compensated: boolean; timerS: number | null }
  /** Held at the ceiling until the current has fallen to its tail, or for so long. */
  | {
      does: 'hold';
      amps: number;
      ceilingV: number;
      compensated: boolean;
      tailA: number;
      mostS: number;
    }
  /** Bursts up to a ceiling, for so long. */
  | { does: 'bursts'; peakA: number; onS: number; offS: number; ceilingV: number; forS: number };

/** Current of an unregulated charger: (`openV` − U) ÷ `ohm`, never backwards. */
export interface SourceLine {
  openV: number;
  ohm: number;
}

/** A charger's own way with a battery. */
export interface Behaviour {
  phases: readonly Phase[];
  /** After its last phase it calls the battery full. Else a person switches it off. */
  endsItself: boolean;
}

/** An unregulated charger by its kind: at which voltage it gives what is printed on it, and how much of that 2 V higher. V per 12 V. */
const LINES: Readonly<Partial<Record<ChargerKind, { printedAtV: number; share2V: number }>>> = {
  // A quarter at 14.5 V of what it gives at 12.5 V.
  taper: { printedAtV: 12.5, share2V: 0.25 },
  // A transformer of a fixed current gives a fifth more at 11 V and a fifth less at 14 V.
  fixed: { printedAtV: 12.5, share2V: 1 - 0.4 * (2 / 3) },
};

/** An automatic charger calls the battery full at this share of its current (usual 3 to 8 %), or after so long at the ceiling (2 to 8 h). */
const TAIL_SHARE = 0.05;
const HOLD_S = 6 * 3600;
/** Its timer finds that the first stage takes too long (usual 12 to 40 h). A maintainer has none. */
const TIMER_S = 24 * 3600;

/** The line of an unregulated charger at a setting, for so many cells; null for one that regulates. */
export function sourceLine(kind: ChargerKind, amps: number, cells: number): SourceLine | null {
  const line = LINES[kind];
  if (!line || !(amps > 0)) return null;
  const ohm = forCells(2, cells) / (amps * (1 - line.share2V));
  return { openV: forCells(line.printedAtV, cells) + amps * ohm, ohm };
}

/** Current of a line at a voltage of the battery, A. */
export const lineA = ({ openV, ohm }: SourceLine, voltageV: number): number =>
  Math.max(0, (openV - voltageV) / ohm);

/**
 * What a charger does with a battery by itself.
 *
 * @returns null where current and voltage are set by hand
 */
export function behaviourOf(
  kind: ChargerKind,
  setting: Pick<ChargerSetting, 'amps'> | null,
  program: ChargerProgram | null,
  battery: { cells: number; chemistry: ChemistryKey },
): Behaviour | null {
  if (!setting) return null;
  const { amps } = setting;
  const { cells, chemistry } = battery;
  const line = sourceLine(kind, amps, cells);
  const ceiling = program?.ceilingV ?? null;
  if (line && ceiling === null) return { phases: [{ does: 'line', line }], endsItself: false };
  // Without a line and without a ceiling it is a current, and a person ends it.
  if (ceiling === null)
    return { phases: [{ does: 'line', line: steadyLine(amps, cells) }], endsItself: false };
  const { bursts } = program as ChargerProgram;
  // After its bursts it charges as any automatic one does for this kind.
  const chargesTo = bursts ? CHEMISTRIES[chemistry].absorptionV[1] : ceiling;
  const ceilingV = forCells(chargesTo, cells);
  const compensated = (program as ChargerProgram).compensated;
  return {
    endsItself: true,
    phases: [
      ...(bursts
        ? [
            {
              does: 'bursts' as const,
              peakA: amps,
              onS: 1 / bursts.perSecond / bursts.peakOverMean,
              offS: (1 / bursts.perSecond) * (1 - 1 / bursts.peakOverMean),
              ceilingV: forCells(ceiling, cells),
              forS: bursts.hours * 3600,
            },
          ]
        : []),
      {
        does: 'bulk',
        amps,
        ceilingV,
        compensated,
        timerS: kind === 'maintainer' ? null : TIMER_S,
      },
      { does: 'hold', amps, ceilingV, compensated, tailA: TAIL_SHARE * amps, mostS: HOLD_S },
    ],
  };
}

/** A current that hardly falls. */
const steadyLine = (amps: number, cells: number): SourceLine => {
  const openV = forCells(200, cells);
  return { openV, ohm: (openV - forCells(12.5, cells)) / amps };
};
