import { CHEMISTRIES, forCells } from '../batteries/chemistry.ts';
import { leadAcidKind } from '../batteries/kinds.ts';
import { TEMPERATURE_LIMITS } from '../charging/limits.ts';
import { behaviourOf } from '../chargers/behaviour.ts';
import type { ChargerInUse, ShopCharger } from '../chargers/charger.ts';
import { ChargerRun } from '../chargers/chargerRun.ts';
import { type Showing, showingsOf } from '../chargers/showing.ts';
import { PER_CELL_AND_AH } from '../electrolyte/gassing.ts';
import {
  type Condition,
  makeBattery,
  mixLayers,
  type SimBattery,
  topUp,
} from '../simulation/battery.ts';
import { DESIGNS } from '../simulation/design.ts';
import { labelledSize } from '../simulation/labelled.ts';
import { Pair } from '../simulation/parallel.ts';
import { REST, Stepper } from '../simulation/step.ts';
import { viewBattery, viewCell } from '../simulation/view.ts';
import type { DrillCase } from './case.ts';
import type { Happening } from './acts.ts';

/** What is on its terminals. */
type Connected =
  | { by: 'supply'; setA: number; setV: number }
  | { by: 'charger'; inUse: ChargerInUse; run: ChargerRun; refuses: boolean }
  | { by: 'load'; currentA: number; cutoffV: number }
  | { by: 'donor'; pair: Pair; chargerA: number };

/** Charge gone into a battery and what it cost, for marks and for looking back. */
export interface Harm {
  /** Seconds with current on above 50 °C. */
  hotS: number;
  /** Water a sealed battery lost, g. */
  sealedLostG: number;
  /** Deepest below the cut-off under a load that was left on, V. */
  belowCutOffV: number;
}

/** Longest stretch between two looks of whoever is near, s. */
const NEAR_S = 300;
const LOAD_NEAR_S = 30;
const { pauseC, pauseAboveAmbientC, stopC } = TEMPERATURE_LIMITS;
/** Gassing current that bubbles in an open cell, and that is smelt of a sealed one: shares of C20 per hour. */
const BUBBLES_C = 0.01;
const SMELT_C = 0.02;
/** A donor of the shop: a full one of this size, Ah, on leads of so many Ω with their clips. */
const DONOR_AH = 60;
const LEADS_OHM = 0.006;
const WAKE_LIMIT_12V = 14.4;
/** Acid in its container and a dry battery come to the temperature of the room with these times, h. */
const ACID_H = 4;
const DRY_H = 1.5;

/** The battery of a case and what is connected to it, in time. Nobody but the simulation knows what is in it. */
export class World {
  battery: SimBattery | null;
  acidC: number;
  readonly harm: Harm = { hotS: 0, sealedLostG: 0, belowCutOffV: 0 };
  readonly stillTubes: Set<number>;
  /** Since when no current has gone in, s before now; null while it does. */
  currentOffS: number | null = Infinity;
  #stepper: Stepper | null = null;
  #on: Connected | null = null;
  /** Temperature of a battery nobody has filled yet, °C. */
  #dryC: number;
  #told = new Set<Happening>();
  #donor: SimBattery | null = null;

  constructor(readonly drillCase: DrillCase) {
    const { truth, acid, roomC } = drillCase;
    this.acidC = acid?.temperatureC ?? roomC;
    this.#dryC = truth.condition.temperatureC;
    this.stillTubes = new Set(truth.stillTubes ?? []);
    this.battery = truth.dry ? null : this.#make(truth.condition);
    if (this.battery) {
      this.#stepper = new Stepper(this.battery);
      this.#stepper.run(REST, (truth.stoodH ?? 0) * 3600);
    }
  }

  #make(condition: Condition): SimBattery {
    const { model, roomC } = this.drillCase;
    return makeBattery(
      DESIGNS[leadAcidKind(model.kind).chemistry],
      labelledSize(model),
      condition,
      roomC,
    );
  }

  get sealed(): boolean {
    return leadAcidKind(this.drillCase.model.kind).chemistry !== 'flooded';
  }

  get stepper(): Stepper {
    if (!this.#stepper) throw new Error('It is dry.');
    return this.#stepper;
  }

  get isDry(): boolean {
    return this.battery === null;
  }

  /** Terminal volts as a meter would see them now. */
  get voltageV(): number {
    if (!this.battery) return 0;
    if (this.#on?.by === 'donor') return this.#on.pair.voltageV;
    return this.stepper.voltageV;
  }

  get currentA(): number {
    if (!this.battery || !this.#on) return 0;
    if (this.#on.by === 'donor') return this.#on.pair.firstA;
    return this.stepper.currentA;
  }

  get temperatureC(): number {
    return this.battery ? this.stepper.temperatureC : this.#dryC;
  }

  /** Is current, or a charger that could give some, on it? */
  get charging(): boolean {
    return this.#on !== null && this.#on.by !== 'load';
  }

  get load(): { currentA: number; cutoffV: number } | null {
    return this.#on?.by === 'load' ? this.#on : null;
  }

  /** Acid goes in; a tube that stood still leaves its cell short of acid. */
  fill(): void {
    if (this.battery) return;
    const { truth, model } = this.drillCase;
    const cells = Array.from({ length: model.cells }, (_, k) => ({
      ...truth.condition.cells?.[k],
      ...(this.stillTubes.has(k) ? { dry: STILL_TUBE_DRY } : {}),
    }));
    this.battery = this.#make({ ...truth.condition, temperatureC: this.#dryC, cells });
    this.#stepper = new Stepper(this.battery);
  }

  /** A tube that was tapped empties after all, and its cell has its acid. */
  tap(tube: number): void {
    if (!this.stillTubes.delete(tube) || !this.battery) return;
    topUp(this.battery);
  }

  water(): void {
    if (this.battery) topUp(this.battery);
  }

  mix(): void {
    if (this.battery) mixLayers(this.battery);
  }

  /** Something is clipped on, and begins. */
  connectSupply(setA: number, setV: number): void {
    this.#connect({ by: 'supply', setA, setV });
  }

  connectCharger(inUse: ChargerInUse, charger: ShopCharger, setA: number, setV: number): void {
    const { model } = this.drillCase;
    const { chemistry } = leadAcidKind(model.kind);
    const setting = charger.settings.find((s) => s.name === inUse.setting) ?? null;
    const program =
      charger.programs.find((p) => p.name === inUse.program) ?? charger.programs[0] ?? null;
    const behaviour = behaviourOf(charger.kind, setting, program, {
      cells: model.cells,
      chemistry,
    });
    if (!behaviour) return this.connectSupply(setA, setV);
    const { stepper, battery } = this;
    this.#connect({
      by: 'charger',
      inUse,
      run: new ChargerRun(behaviour, stepper, battery as SimBattery),
      refuses: this.voltageV < forCells(charger.startsV, model.cells),
    });
  }

  connectLoad(currentA: number, cutoffV: number): void {
    this.#connect({ by: 'load', currentA, cutoffV });
  }

  /** Waking: beside a full donor, or a small current alone. */
  wake(way: string, chargerA: number): void {
    const { model } = this.drillCase;
    if (way !== 'parallel') {
      this.connectSupply(chargerA, forCells(WAKE_LIMIT_12V, model.cells));
      return;
    }
    this.#donor ??= makeBattery(
      DESIGNS.flooded,
      { cells: model.cells, c20Ah: DONOR_AH },
      { charge: 1, temperatureC: this.drillCase.roomC },
    );
    const pair = new Pair(this.battery as SimBattery, this.#donor, LEADS_OHM);
    this.#connect({ by: 'donor', pair, chargerA });
  }

  #connect(on: Connected): void {
    this.#on = on;
    this.#told = new Set();
    this.#hydrogenL = this.battery ? viewBattery(this.battery).hydrogenL : 0;
    if (on.by !== 'load') this.currentOffS = null;
  }

  disconnect(): void {
    if (this.charging) this.currentOffS = 0;
    this.#on = null;
    this.#told = new Set();
    if (this.battery) {
      this.#stepper = new Stepper(this.battery);
      this.stepper.run(REST, 1);
    }
  }

  /** A load of seconds, and half a minute after it: V at its end, and after. */
  loadFor(currentA: number, seconds: number): { underV: number; afterV: number } {
    const { stepper } = this;
    stepper.run({ currentA: -currentA, limitV: Infinity, floorV: 0 }, seconds);
    const underV = Math.max(0, stepper.voltageV);
    stepper.run(REST, 30);
    return { underV, afterV: stepper.voltageV };
  }

  /** What the charger on it shows; null where there is none, or it shows nothing. */
  get showing(): Showing | null {
    if (this.#on?.by !== 'charger') return null;
    const { inUse, run, refuses } = this.#on;
    const means = refuses
      ? 'refuses'
      : run.believes === 'charging'
        ? 'charging'
        : run.believes === 'full'
          ? 'full'
          : 'error';
    const shown = inUse.own ? showingsOf(inUse.own) : [];
    return shown.find((s) => s.means === means) ?? null;
  }

  /** Does the charger on it show a current? */
  get showsAmps(): boolean {
    return this.#on?.by === 'supply' || (this.#on?.by === 'charger' && this.#on.inUse.showsAmps);
  }

  /**
   * Moves on.
   *
   * @param alert stops where something happens that a person nearby would notice
   * @returns seconds that went by, and what happened, each with its second
   */
  run(
    seconds: number,
    alert: boolean,
    onStep: (wentS: number) => void = () => undefined,
  ): { wentS: number; happened: { atS: number; what: Happening }[] } {
    let wentS = 0;
    const happened: { atS: number; what: Happening }[] = [];
    while (wentS < seconds - 1e-6) {
      const left = seconds - wentS;
      const step = this.#on
        ? this.#step(Math.min(left, this.load ? LOAD_NEAR_S : NEAR_S))
        : this.#rest(left);
      wentS += step;
      this.#standing(step);
      onStep(wentS);
      const noticed = this.#notice(step);
      for (const what of noticed) happened.push({ atS: wentS, what });
      if (alert && noticed.length > 0) break;
    }
    return { wentS, happened };
  }

  #rest(seconds: number): number {
    this.#stepper?.run(REST, seconds);
    if (this.currentOffS !== null) this.currentOffS += seconds;
    return seconds;
  }

  #step(seconds: number): number {
    const on = this.#on as Connected;
    const { stepper } = this;
    const before = stepper.elapsedS;
    const lost = this.sealed ? viewBattery(this.battery as SimBattery).waterLostG : 0;
    if (on.by === 'donor')
      on.pair.run({ currentA: on.chargerA, limitV: this.#wakeLimitV }, seconds);
    else if (on.by === 'supply')
      while (stepper.elapsedS - before < seconds - 1e-6)
        stepper.step({ currentA: on.setA, limitV: on.setV }, seconds - (stepper.elapsedS - before));
    else if (on.by === 'load')
      stepper.run({ currentA: -on.currentA, limitV: Infinity, floorV: 0 }, seconds);
    else this.#charge(on, seconds, before);
    if (on.by !== 'load' && stepper.temperatureC > stopC && this.currentA > 0)
      this.harm.hotS += seconds;
    if (this.sealed)
      this.harm.sealedLostG += viewBattery(this.battery as SimBattery).waterLostG - lost;
    if (on.by === 'load')
      this.harm.belowCutOffV = Math.max(this.harm.belowCutOffV, on.cutoffV - stepper.voltageV);
    return seconds;
  }

  get #wakeLimitV(): number {
    return forCells(WAKE_LIMIT_12V, this.drillCase.model.cells);
  }

  /** By its own program; after that it floats, rests or has given up. */
  #charge(on: Extract<Connected, { by: 'charger' }>, seconds: number, before: number): void {
    const { stepper } = this;
    const left = (): number => seconds - (stepper.elapsedS - before);
    if (on.refuses) return stepper.run(REST, seconds);
    while (left() > 1e-6 && on.run.believes === 'charging') on.run.step(left());
    if (left() <= 1e-6) return;
    const way = on.inUse.own;
    const floats = on.run.believes === 'full' && way?.program?.ends === 'floats';
    const { chemistry } = leadAcidKind(this.drillCase.model.kind);
    const floatV = forCells(CHEMISTRIES[chemistry].floatV, this.drillCase.model.cells);
    stepper.run(floats ? { currentA: way?.amps ?? 0, limitV: floatV } : REST, left());
  }

  /** Acid and a dry battery come to the temperature of the room. */
  #standing(seconds: number): void {
    const { roomC } = this.drillCase;
    const left = (hours: number): number => Math.exp(-seconds / 3600 / hours);
    this.acidC = roomC + (this.acidC - roomC) * left(ACID_H);
    this.#dryC = roomC + (this.#dryC - roomC) * left(DRY_H);
  }

  #hydrogenL = 0;
  #notice(seconds: number): Happening[] {
    const { battery } = this;
    if (!battery || !this.#on) return [];
    const { hydrogenL } = viewBattery(battery);
    const gassingA =
      (hydrogenL - this.#hydrogenL) / PER_CELL_AND_AH.hydrogenL / battery.cells / (seconds / 3600);
    this.#hydrogenL = hydrogenL;
    const is: Record<Happening, boolean> = {
      light: this.#on.by === 'charger' && !this.#on.refuses && this.#on.run.believes === 'full',
      error: this.#on.by === 'charger' && this.#on.run.believes === 'timer',
      warm:
        this.temperatureC > Math.min(pauseC, this.drillCase.roomC + pauseAboveAmbientC) &&
        this.temperatureC <= stopC,
      hot: this.temperatureC > stopC,
      smell: this.charging && this.sealed && gassingA > SMELT_C * battery.c20Ah,
      gassing: this.charging && !this.sealed && gassingA > BUBBLES_C * battery.c20Ah,
      'cut-off': this.#on.by === 'load' && this.voltageV <= this.#on.cutoffV,
      'level-gone':
        !this.sealed && viewCell(battery, 0).water < battery.design.dryBegins && !this.#bareAtFirst,
    };
    const news = (Object.keys(is) as Happening[]).filter((k) => is[k] && !this.#told.has(k));
    for (const k of news) this.#told.add(k);
    return news;
  }

  get #bareAtFirst(): boolean {
    return (this.drillCase.truth.condition.cells?.[0]?.dry ?? 0) > 0.1;
  }
}

/** A cell whose tube never emptied has so much less acid and water than it should. */
const STILL_TUBE_DRY = 0.5;
