/* The battery kernel of src/core/simulation in plain C: the yardstick of `npm run bench`. Same equations,
   same adaptive steps. `numbers.h` is written by the bench from the same design and the same battery. */
#include <math.h>
#include <stdio.h>
#include <string.h>
#include <time.h>
#include "numbers.h"

#define SIZE 10
#define MAKE 5
enum { SOFT, HARD, PORE, LOWER, UPPER, WATER, PLATES, GASSED, VENTED, LEAKED };
enum { ACTIVE, RESISTANCE, JOINT, SHORT, POLARITY };
#define STATE (CELLS * SIZE + 5)
#define BASE (CELLS * SIZE)

static const double MOLALITY = 3600 / 96485.332 * 1000, WEAKEST = 0.1, NERNST = 0.118, REST_PER_K = 0.0002;
static const double SOFTENS_ABOVE = 2.28, SOFTENING_AT = 2.45, SOFTENING_STEP = 0.08;

typedef struct { double gain, main, mainSlope, hard, hardSlope, gas, gasSlope, vent, back, backSlope, leakSlope, rest, ohms, total, slope; } Linear;
static Linear lin[CELLS];
static double openV, ohms, nextS, outV, outA;

static double bode(double m) {
  double l = log10(m);
  return 1.9228 + l * (0.147519 + l * (0.063552 + l * (0.073772 + l * 0.033612)));
}

static void linearise(const double *s) {
  const double warmth = s[BASE] - 25, reaction = exp(0.034 * warmth), gasWarmth = exp(0.06 * warmth);
  const double discharging = 0.5 * P_exchange * exp(0.012 * warmth), charging = 0.5 * P_exchangeCharging * reaction;
  const double acceptance = P_acceptance * reaction, delivery = P_delivery * exp(0.035 * warmth);
  const double gas0 = P_gassing * gasWarmth, local = P_localAction * gasWarmth, ohms0 = P_resistance * exp(-0.008 * warmth);
  const double softening = P_softening * reaction / (exp((SOFTENING_AT - SOFTENS_ABOVE) / SOFTENING_STEP) - 1);
  const double poreMolality = MOLALITY / P_poreShare, freeMolality = 0.5 * 0.3 * MOLALITY / (0.5 * (1 - P_poreShare)), perTafel = 1 / P_tafel;
  for (int k = 0; k < CELLS; k++, s += SIZE) {
    const double *make = MAKES + k * MAKE;
    Linear *o = &lin[k];
    const double soft = s[SOFT], hard = s[HARD], water = s[WATER], u = s[PLATES], discharged = soft + hard;
    const double covered = ((water - 0.672 * discharged) / P_water - P_dryEnds) / (P_dryBegins - P_dryEnds);
    const double wet = covered > 1 ? 1 : covered < 0.02 ? 0.02 : covered, poreM = poreMolality * s[PORE] / water;
    const double layer = freeMolality * (s[LOWER] - s[UPPER]) / water, felt = layer > 0 ? poreM + layer : poreM;
    const double rest = REST_PER_K * warmth + (felt >= WEAKEST ? bode(felt) : bode(WEAKEST) + NERNST * log10((felt > 1e-9 ? felt : 1e-9) / WEAKEST));
    const double over = (u - rest) * perTafel, active = make[ACTIVE] * P_activeShare * wet, left = active - discharged;
    const double ex = exp(over > 30 ? 30 : over < -30 ? -30 : over), per = 1 / ex;
    const double blocked = hard / (active > 0.05 ? active : 0.05), bare = blocked < 0.9 ? wet * (1 - blocked) * (1 - blocked) : wet * 0.01;
    const double exchange = (over >= 0 ? charging : discharging) * bare;
    const double drive = exchange * (ex - per), driveSlope = exchange * (ex + per) * perTafel;
    double main, mainSlope, back = 0, backSlope = 0;
    if (over >= 0) {
      const double dissolving = acceptance * bare * (soft > 0 ? soft * sqrt(sqrt(soft)) : 0) + 1e-9, limit = dissolving * over;
      if (over < 1e-6) {
        const double through = driveSlope * P_tafel;
        mainSlope = through * dissolving / (through + dissolving) / P_tafel;
        main = mainSlope * over * P_tafel;
      } else {
        const double both = drive + limit;
        main = drive * limit / both;
        mainSlope = (limit * limit * driveSlope + drive * drive * dissolving / P_tafel) / (both * both);
      }
    } else {
      const double acid = poreM > 0 ? poreM / (poreM + P_acidKnee) : 0, limit = delivery * (left > 0 ? left * left * left : 0) * acid + 1e-9;
      const double held = 1 / (1 - drive / limit);
      main = drive * held;
      mainSlope = driveSlope * held * held;
    }
    if (u > SOFTENS_ABOVE && hard > 0) {
      const double grow = exp((u - SOFTENS_ABOVE) / SOFTENING_STEP) * softening * hard;
      back = grow - softening * hard;
      backSlope = grow / SOFTENING_STEP;
    }
    const double burst = gas0 * exp(11 * ((u > 3.6 ? 3.6 : u) - 2.23)), gas = burst + (u > 1 ? local : 0);
    const double wrong = u < 0 ? 0.02 * exp(-11 * ((u < -3.5 ? -3.5 : u) + 1.8)) : 0;
    o->slope = mainSlope + backSlope + 11 * burst + 11 * wrong + make[SHORT];
    o->total = main + back + gas - wrong + make[SHORT] * u;
    o->main = main; o->mainSlope = mainSlope; o->hard = back; o->hardSlope = backSlope; o->gas = gas; o->gasSlope = 11 * burst;
    o->vent = P_recombination == 0 ? 1 : 1 - P_recombination / (1 + gas / P_recombinationLimit);
    o->back = wrong; o->backSlope = 11 * wrong; o->leakSlope = make[SHORT]; o->rest = rest;
    o->ohms = ohms0 * make[RESISTANCE] * (1 + P_resistanceEmpty * discharged * discharged + P_resistanceHard * blocked * blocked) / wet + make[JOINT];
  }
}

static void closeStep(const double *s, double hours) {
  openV = ohms = 0;
  for (int k = 0; k < CELLS; k++) {
    lin[k].gain = 1 / (P_doubleLayer / hours + lin[k].slope);
    openV += MAKES[k * MAKE + POLARITY] * (s[k * SIZE + PLATES] - lin[k].gain * lin[k].total);
    ohms += lin[k].gain + lin[k].ohms;
  }
}

static double apply(double *state, double hours, double current) {
  const double temperature = state[BASE], warmth = temperature - 25, spread = exp(0.02 * warmth) * P_diffusion;
  const double harden = exp(0.69314718055994531 / 10 * warmth) * P_hardening * hours, freeWater = 1 - P_poreShare;
  double volts = 0, chemistry = 0, *s = state;
  for (int k = 0; k < CELLS; k++, s += SIZE) {
    const Linear *o = &lin[k];
    const double polarity = MAKES[k * MAKE + POLARITY], before = s[PLATES], rise = o->gain * (polarity * current - o->total);
    s[PLATES] = before + rise;
    volts += polarity * s[PLATES] + o->ohms * current;
    const double main = o->main + o->mainSlope * rise, back = o->hard + o->hardSlope * rise, gas = o->gas + o->gasSlope * rise;
    const double wrong = o->back - o->backSlope * rise, vented = gas * o->vent, hardened = harden * s[SOFT] * s[SOFT];
    s[SOFT] -= main * hours + hardened;
    s[HARD] += hardened - back * hours;
    s[GASSED] += (gas - wrong) * hours;
    s[VENTED] += (vented + wrong) * hours;
    s[LEAKED] += o->leakSlope * s[PLATES] * hours;
    s[WATER] -= ((main + back) * 0.672 + (vented + wrong) * 0.336) * hours;
    const double made = (main + back) * hours, pore = s[PORE], lower = s[LOWER], upper = s[UPPER], free = lower + upper;
    const double settled = (pore + made + hours * spread * free / freeWater) / (1 + hours * spread / P_poreShare);
    const double leaves = hours * spread * (settled / P_poreShare - free / freeWater);
    const double down = leaves > 0 ? 0.5 * (1 + P_layering) * leaves : free > 0 ? leaves * lower / free : 0;
    const double mixing = (P_mixingByGas * vented + P_mixingByItself) * hours, fall = 0.5 * (lower - upper) * mixing / (1 + mixing);
    s[PORE] = pore + made - leaves;
    s[LOWER] = lower + down - fall;
    s[UPPER] = upper + leaves - down + fall;
    chemistry += ((main + back) * (o->rest - REST_PER_K * (298.15 + warmth)) + (vented + wrong) * 1.48) * hours + P_doubleLayer * (before + 0.5 * rise) * rise;
  }
  chemistry *= C20;
  const double energy = volts * current * C20 * hours, size = CELLS * C20, lost = P_cooling * cbrt(size * size) * hours, stores = P_heatCapacity * size;
  const double next = (temperature + (energy - chemistry) / stores + lost / stores * AMBIENT) / (1 + lost / stores);
  state[BASE] = next;
  state[BASE + 1] += current * C20 * hours;
  state[BASE + 2] += energy;
  state[BASE + 3] += chemistry;
  state[BASE + 4] += lost * (next - AMBIENT);
  return volts;
}

static double take(double *s, double hours, double amps, double limit) {
  closeStep(s, hours);
  double c = amps / C20;
  if (c > 0 && openV + ohms * c > limit) c = fmax(0, (limit - openV) / ohms);
  outA = c * C20;
  return apply(s, hours, c);
}

static double step(double *state, double amps, double limit, double most) {
  static double whole[STATE], halves[STATE];
  double seconds = fmin(fmin(nextS, most), LONGEST_S);
  for (;;) {
    const double hours = seconds / 3600;
    memcpy(whole, state, sizeof whole);
    memcpy(halves, state, sizeof halves);
    linearise(whole);
    const double wholeV = take(whole, hours, amps, limit);
    take(halves, hours / 2, amps, limit);
    linearise(halves);
    const double halvesV = take(halves, hours / 2, amps, limit);
    const double volt = seconds < 30 ? TRANSIENT * VOLTS_PER_CELL : VOLTS_PER_CELL;
    double worst = fabs(halvesV - wholeV) / (CELLS * volt);
    int sound = 1;
    for (int k = 0; k < CELLS; k++) {
      const double *h = halves + k * SIZE, *w = whole + k * SIZE;
      worst = fmax(worst, fabs(h[PLATES] - w[PLATES]) / volt);
      worst = fmax(worst, fabs(h[SOFT] - w[SOFT]) / CHARGE);
      worst = fmax(worst, fabs(h[PORE] - w[PORE]) / CHARGE);
      if (2 * h[SOFT] - w[SOFT] < -1e-6 || 2 * h[PORE] - w[PORE] <= 0) sound = 0;
    }
    if ((worst <= 1 && sound) || seconds <= 0.02) {
      for (int i = 0; i < STATE; i++) state[i] = sound ? 2 * halves[i] - whole[i] : halves[i];
      outV = sound ? 2 * halvesV - wholeV : halvesV;
      if (amps > 0 && outV > limit) outV = limit;
      nextS = fmax(0.02, seconds * fmin(4, worst < 0.02 ? 4 : 0.9 / sqrt(worst)));
      return seconds;
    }
    seconds = fmax(0.02, seconds * (sound ? fmax(0.2, 0.9 / sqrt(worst)) : 0.25));
  }
}

int main(void) {
  double state[STATE];
  struct timespec a, b;
  clock_gettime(CLOCK_MONOTONIC, &a);
  for (int run = 0; run < RUNS; run++) {
    memcpy(state, BEGIN, sizeof state);
    nextS = 1;
    for (double left = HOURS * 3600.0; left > 1e-9;) left -= step(state, AMPS, LIMIT, left);
  }
  clock_gettime(CLOCK_MONOTONIC, &b);
  printf("%.9f %.9f %.9f\n", (b.tv_sec - a.tv_sec) + (b.tv_nsec - a.tv_nsec) * 1e-9, outV, state[BASE + 1]);
  return 0;
}
