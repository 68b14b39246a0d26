import { compensatedCeilingV } from '../charging/limits.ts';
import { addPeriods, periodsAllowed } from '../rehearsal/leap.ts';
import type { SimBattery } from '../simulation/battery.ts';
import type { Stepper } from '../simulation/step.ts';
import { type Behaviour, lineA, type Phase } from './behaviour.ts';

/** An unregulated current is set anew this often at least, s. */
const LINE_STEP_S = 300;
const LONGEST_STEP_S = 1800;
/** A charger's first moments settle and end nothing. s */
export const SETTLE_S = 20;
const FREELY = 12;

/**
 * A charger on a battery, moved on bit by bit: which phase it is in, and what it believes. Who watches it decides how far it
 * goes and may take it off at any moment.
 */
export class ChargerRun {
  /** `timer`: it found that its first stage takes too long, and gives nothing any more. */
  believes: 'charging' | 'full' | 'timer' = 'charging';
  /** The most its last step showed, V: within a burst it is more than at the end of the pause. */
  peakV = 0;
  #phase = 0;
  #beganS: number;
  /** States at the beginnings of the last bursts. */
  #bursts: Float64Array[] = [];

  constructor(
    readonly behaviour: Behaviour,
    readonly stepper: Stepper,
    readonly battery: SimBattery,
  ) {
    this.#beganS = stepper.elapsedS;
    this.#begins();
  }

  /** What it does now; null once it has come to its end. */
  get phase(): Phase | null {
    return this.behaviour.phases[this.#phase] ?? null;
  }

  /** Seconds since what it does now began. */
  get inPhaseS(): number {
    return this.stepper.elapsedS - this.#beganS;
  }

  /** One step of at most `mostS` seconds; many bursts that differ little count as one. Nothing moves once it has come to its end. */
  step(mostS: number): void {
    const { phase, stepper } = this;
    if (!phase || this.believes !== 'charging') return;
    this.#step(phase, mostS);
    if (phase.does !== 'bursts') this.peakV = stepper.voltageV;
  }

  #step(phase: Phase, mostS: number): void {
    const { stepper } = this;
    if (phase.does === 'bursts') {
      this.#burst(phase, mostS);
      if (this.inPhaseS >= phase.forS) this.#next();
      return;
    }
    if (phase.does === 'line') {
      stepper.step(
        { currentA: lineNow(phase.line, stepper), limitV: phase.line.openV },
        Math.min(LINE_STEP_S, mostS),
      );
      return;
    }
    const limitV = phase.compensated
      ? compensatedCeilingV(phase.ceilingV, this.battery.cells, stepper.temperatureC)
      : phase.ceilingV;
    stepper.step({ currentA: phase.amps, limitV }, Math.min(LONGEST_STEP_S, mostS));
    const { inPhaseS } = this;
    if (phase.does === 'bulk') {
      if (inPhaseS > SETTLE_S && stepper.voltageV >= limitV - 1e-3) this.#next();
      else if (phase.timerS !== null && inPhaseS >= phase.timerS) this.believes = 'timer';
    } else if (
      (inPhaseS > SETTLE_S && stepper.currentA <= phase.tailA) ||
      inPhaseS >= phase.mostS - 1
    )
      this.#next();
  }

  #next(): void {
    this.#phase += 1;
    this.#beganS = this.stepper.elapsedS;
    if (this.phase) this.#begins();
    else this.believes = 'full';
  }

  #begins(): void {
    this.stepper.nextS = Math.min(this.stepper.nextS, 5);
  }

  /** Thousands of bursts that differ little: three are simulated in full, and the same again is added for as many as the state allows. */
  #burst(phase: Extract<Phase, { does: 'bursts' }>, mostS: number): void {
    const { stepper, battery } = this;
    const periodS = phase.onS + phase.offS;
    this.#bursts.push(battery.state.slice());
    const [a, b, c] = this.#bursts;
    if (a && b && c) {
      const left = Math.floor(Math.min(phase.forS - this.inPhaseS, mostS) / periodS);
      const many = Math.min(left, periodsAllowed(battery, [a, b, c], FREELY));
      if (many > 0) {
        addPeriods(battery, b, c, many);
        stepper.elapsedS += many * periodS;
        this.#bursts = [];
        return;
      }
      this.#bursts = [b, c];
    }
    stepper.run({ currentA: phase.peakA, limitV: phase.ceilingV }, phase.onS);
    this.peakV = stepper.voltageV;
    stepper.run({ currentA: 0, limitV: 0 }, phase.offS);
  }
}

/** The current at which charger and battery agree, A: both their lines cross there. */
function lineNow(line: { openV: number; ohm: number }, stepper: Stepper): number {
  const openV = stepper.probe(0);
  const amps = lineA(line, openV);
  if (amps === 0) return 0;
  const batteryOhm = (stepper.probe(amps) - openV) / amps;
  return Math.max(0, (line.openV - openV) / (line.ohm + batteryOhm));
}
