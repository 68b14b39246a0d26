/* The battery kernel of src/core/simulation in plain C: the yardstick of `npm run bench`. Same equations,
   same adaptive steps. `numbers.h` is written by the bench from the same design and the same battery. */
#include <math.h>
#include <stdio.h>
#include <string.h>
#include <time.h>
#include "numbers.h"

#define SIZE 13
#define MAKE 5
enum { SOFT, HARD, FILM, PORE, LOWER, UPPER, WATER, PLATES, SURFACE, TRANSPORT, GASSED, VENTED, LEAKED };
enum { ACTIVE, RESISTANCE, JOINT, SHORT, POLARITY };
#define STATE (CELLS * SIZE + 5)
#define BASE (CELLS * SIZE)

static const double MOLALITY = 3600 / 96485.332 * 1000, WEAKEST = 0.1, NERNST = 0.118, REST_PER_K = 0.0002;
static const double SOFTENS_ABOVE = 2.28, SOFTENING_AT = 2.45, SOFTENING_STEP = 0.08, GAS_STRAIGHT = 3.1, GONE = 0.003, OF_ALL = 0.9;

typedef struct {
  double gain, main, mainSlope, perSoft, perPore, leaves, mainNow, slopeNow, hard, hardSlope, gas, gasSlope, vent, back, backSlope, leak, leakSlope, rest, ohms, transport, transportPerSoft, root, tv, tc;
} Linear;
static Linear lin[CELLS];
static double openV, ohms, nextS, outV, outA, spread, sulfates, reach;

static double root(double over, double b, double c, double from) {
  const double byExchange = over / b;
  double y = from;
  for (int i = 0; i < 12; i++) {
    if (!(y > 0) || y > byExchange || (i == 1 && y > from + 2)) {
      const double ratio = over / c, byDissolving = log(ratio + sqrt(ratio * ratio + 1));
      y = byExchange < byDissolving ? byExchange : byDissolving;
    }
    const double e = exp(y), per = 1 / e, step = (b * y + 0.5 * c * (e - per) - over) / (b + 0.5 * c * (e + per));
    y -= step;
    if (step < 1e-6 && step > -1e-6) break;
  }
  return y > 0 ? y : 0;
}

static double warmth(double caseC) { return (caseC > 105 ? 105 : caseC < -60 ? -60 : caseC) - 25; }

static void linearise(const double *s) {
  const double theta = warmth(s[BASE]), gasWarmth = exp(0.06 * theta), exchange = P_exchange * exp(P_exchangePerK * theta);
  const double acceptance = P_acceptance * exp(P_acceptancePerK * theta), exchangeCharging = P_exchangeCharging * exp(P_acceptancePerK * theta);
  const double softening = P_softening * exp(0.034 * theta) / (exp((SOFTENING_AT - SOFTENS_ABOVE) / SOFTENING_STEP) - 1);
  const double transport = P_transport * exp(P_transportPerK * theta), gas0 = P_gassing * gasWarmth, local = P_localAction * gasWarmth;
  const double ohmsMetal = P_resistance * (1 - P_acidOhms) * (1 + P_metalPerK * theta), ohmsAcid = P_resistance * P_acidOhms * exp(-P_acidPerK * theta);
  const double poreMolality = MOLALITY / P_poreShare, freeMolality = 0.5 * 0.3 * MOLALITY / (0.5 * (1 - P_poreShare)), perFullLog = log(P_water / (MOLALITY * P_acid));
  const double weakestLog = log(WEAKEST), wl = log10(WEAKEST), atWeakest = 1.9228 + wl * (0.147519 + wl * (0.063552 + wl * (0.073772 + wl * 0.033612)));
  reach = fmax(0.3, P_reach + P_reachPerK * theta);
  spread = P_diffusion * exp(P_diffusionPerK * theta);
  sulfates = exp(0.69314718055994531 / 10 * theta);
  for (int k = 0; k < CELLS; k++, s += SIZE) {
    const double *make = MAKES + k * MAKE;
    Linear *o = &lin[k];
    const double soft = s[SOFT], hard = s[HARD], water = s[WATER], u = s[PLATES], discharged = soft + hard;
    const double kept = (water - 0.672 * discharged) / P_water, covered = (kept - P_dryEnds) / (P_dryBegins - P_dryEnds);
    const double wet = covered > 1 ? 1 : covered < 0.02 ? 0.02 : covered, poreM = poreMolality * s[PORE] / water;
    const double layer = freeMolality * (s[LOWER] - s[UPPER]) / water, felt = layer > 0 ? poreM + layer : poreM;
    double rest = REST_PER_K * theta, perLog = NERNST / log(10);
    const double feltLog = log(felt > 1e-9 ? felt : 1e-9);
    if (felt >= WEAKEST) {
      const double l = feltLog / 2.302585092994046;
      rest += 1.9228 + l * (0.147519 + l * (0.063552 + l * (0.073772 + l * 0.033612)));
      perLog = (0.147519 + l * (2 * 0.063552 + l * (3 * 0.073772 + l * 4 * 0.033612))) / 2.302585092994046;
    } else rest += atWeakest + NERNST / 2.302585092994046 * (feltLog - weakestLog);
    const double active = make[ACTIVE] * (1 - P_dryCapacity * (1 - wet)), whole = reach * (active > 0.02 ? active : 0.02), room = whole - hard;
    const double left = room > 1e-3 && soft < room ? 1 - soft / room : 0, blocked = hard / whole, leftLog = log(left > 1e-4 ? left : 1e-4), over = u - rest;
    double back = 0, backSlope = 0;
    if (over >= 0) {
      const double open = s[FILM] > 0 ? wet * exp(-1.5 * s[FILM]) : wet, dissolving = acceptance * open * exp(P_acceptancePower * log(soft > 1e-5 ? soft : 1e-5));
      const double exchanging = 2 * exchangeCharging * open, e = exp(o->root = root(over, P_tafelCharging, exchanging / dissolving, o->root));
      o->main = 0.5 * exchanging * (e - 1 / e);
      o->mainSlope = 1 / (P_tafelCharging / (0.5 * exchanging * (e + 1 / e)) + 1 / dissolving);
      o->perSoft = soft > 1e-5 ? o->mainSlope * o->main * P_acceptancePower / (dissolving * soft) : 0;
    } else {
      const double gone = GONE * GONE / (left * left + GONE * GONE), exchanging = exchange * wet * active * exp(P_exchangeFade * leftLog) * (1 - gone);
      const double x = over / P_tafel, e = exp(x < -9 ? -9 : x);
      o->mainSlope = exchanging * (e + 1 / e) / P_tafel;
      o->main = exchanging * (e - 1 / e) + (x < -9 ? o->mainSlope * P_tafel * (x + 9) : 0);
      o->perSoft = left > 0 ? -o->main * (P_exchangeFade + 2 * gone) / ((left > 1e-5 ? left : 1e-5) * room) : 0;
    }
    if (u > SOFTENS_ABOVE && hard > 0) {
      const double grow = exp(((u > GAS_STRAIGHT ? GAS_STRAIGHT : u) - SOFTENS_ABOVE) / SOFTENING_STEP) * softening * hard;
      back = grow - softening * hard;
      backSlope = u > GAS_STRAIGHT ? 0 : grow / SOFTENING_STEP;
    }
    const double crosses = 1 + P_dryGas * (1 - (kept < 1 ? kept : 1));
    const double dry = covered < 0.02 ? (covered > 0 ? covered / 0.02 : 0) : 1, has = left > 0 ? left / (left + 0.03) : 0;
    const double driven = over >= 0.1 ? 1 : over > 0 ? over / 0.1 : 0, losing = dry * (has + (1 - has) * driven), steep = u > GAS_STRAIGHT ? GAS_STRAIGHT : u;
    const double burst = losing * gas0 * crosses * exp(11 * (steep - 2.23));
    double wrong = 0, wrongSlope = 0;
    if (u < 0) {
      const double low = u < -2.5 ? -2.5 : u;
      wrong = 0.02 * exp(-11 * (low + 1.8));
      wrongSlope = 11 * wrong;
      wrong += wrongSlope * (low - u);
    }
    const double beyond = u > 5 ? u - 5 : u < -5 ? u + 5 : 0, pore = s[PORE];
    const double fading = over > 0 ? losing * crosses * P_surfaceLoss : 0;
    o->hard = back; o->hardSlope = backSlope; o->gasSlope = 11 * burst + fading; o->gas = burst + 11 * burst * (u - steep) + fading * over + losing * local;
    o->vent = P_recombination == 0 ? 1 : 1 - P_recombination / (1 + o->gas / P_recombinationLimit);
    o->back = wrong; o->backSlope = wrongSlope; o->leak = make[SHORT] * u + 4 * beyond; o->leakSlope = make[SHORT] + (beyond == 0 ? 0 : 4); o->rest = rest;
    o->perPore = o->mainSlope * perLog * poreM / (felt * (pore > 1e-3 ? pore : 1e-3));
    o->leaves = spread * (pore / P_poreShare - (s[LOWER] + s[UPPER]) / (1 - P_poreShare));
    const double weakLog = feltLog + perFullLog, t = transport * exp(-P_transportAcid * (weakLog > -5 ? weakLog : -5)) * (exp(-P_transportPower * leftLog) - 1);
    o->transport = t > 1e-9 ? t : 1e-9;
    o->transportPerSoft = left > 1e-4 ? P_transportPower / (left * room) : 0;
    const double strength = (poreM > 0.05 ? poreM : 0.05) / 4.6, conducts = strength * exp(1 - strength), dryness = wet < 1 ? exp(-P_dryOhms * log(wet)) : 1;
    const double grown = 1 + P_resistanceEmpty * discharged * discharged + P_resistanceHard * blocked * blocked;
    o->ohms = (ohmsMetal + ohmsAcid * dryness / (conducts > 0.02 ? conducts : 0.02)) * make[RESISTANCE] * grown + make[JOINT];
  }
}

static double total(const Linear *o) { return o->mainNow + o->hard + o->gas - o->back + o->leak; }

static void closeStep(const double *s, double hours, double towards) {
  const double capacitance = P_doubleLayer / hours, surface = 1 / (P_surfaceOhms + hours / P_surface), holds = P_transportCapacity / hours;
  const double evens = 1 + hours * spread * (1 / P_poreShare + 1 / (1 - P_poreShare));
  openV = ohms = 0;
  for (int k = 0; k < CELLS; k++, s += SIZE) {
    Linear *o = &lin[k];
    const double polarity = MAKES[k * MAKE + POLARITY], byAcid = o->perPore * hours / evens, slows = 1 / (1 + hours * o->perSoft + byAcid);
    o->mainNow = slows * (o->main + byAcid * o->leaves);
    o->slopeNow = slows * o->mainSlope;
    o->gain = 1 / (capacitance + o->slopeNow + o->hardSlope + o->gasSlope + o->backSlope + o->leakSlope + surface);
    const double drop = o->gain * (total(o) + surface * (s[PLATES] - s[SURFACE])), uses = -o->mainNow * hours * o->transportPerSoft;
    const int charging = polarity * towards > 0;
    const double share = charging ? P_transportCharging : 1, most = charging ? 8 : 500, r = o->transport * (uses > 1 ? 2 : uses < -0.5 ? 0.5 : 1 + uses);
    double conducts = 1 / (r < most ? r : most), tv = holds * s[TRANSPORT] / (holds + conducts);
    if (tv + share * polarity * towards / (holds + conducts) < -3.7) {
      conducts += 2;
      tv = (holds * s[TRANSPORT] - 2 * 3.7) / (holds + conducts);
    }
    o->tv = tv;
    o->tc = share / (holds + conducts);
    openV += polarity * (s[PLATES] - drop + tv);
    ohms += o->gain + o->tc + o->ohms;
  }
}

static double apply(double *state, double hours, double current) {
  const double temperature = state[BASE], theta = warmth(temperature), spreads = spread * hours, harden = sulfates * hours, freeWater = 1 - P_poreShare;
  const double surface = 1 / (P_surfaceOhms + hours / P_surface);
  double volts = 0, chemistry = 0, *s = state;
  for (int k = 0; k < CELLS; k++, s += SIZE) {
    const Linear *o = &lin[k];
    const double polarity = MAKES[k * MAKE + POLARITY], through = polarity * current, before = s[PLATES], held = s[SURFACE];
    double rise = o->gain * (through - total(o) - surface * (before - held));
    const double wanted = o->mainNow + o->slopeNow * rise, backWanted = o->hard + o->hardSlope * rise, gasWanted = o->gas + o->gasSlope * rise;
    const double wrongWanted = o->back - o->backSlope * rise, leak = o->leak + o->leakSlope * rise, intoSurface = surface * (before + rise - held);
    const double soft = s[SOFT], hard = s[HARD], water = s[WATER], pore = s[PORE], lower = s[LOWER], upper = s[UPPER], free = lower + upper;
    const double comes = pore + spreads * free / (freeWater + spreads), room = reach * MAKES[k * MAKE + ACTIVE] - hard - soft;
    const double mostIn = OF_ALL * soft / hours, mostOut = OF_ALL * fmin(room > 0 ? room : 0, comes) / hours, mostBack = OF_ALL * hard / hours;
    const double main = wanted > mostIn ? mostIn : wanted < -mostOut ? -mostOut : wanted, back = backWanted > mostBack ? mostBack : backWanted > 0 ? backWanted : 0;
    const double dries = o->vent * (gasWanted > 0 ? gasWanted : 0) + (wrongWanted > 0 ? wrongWanted : 0);
    const double splits = (water - 0.672 * (soft + hard) - P_dryEnds * P_water) / (0.336 * hours), wets = dries > OF_ALL * splits ? (splits > 0 ? OF_ALL * splits / dries : 0) : 1;
    const double gas = wets * gasWanted, wrong = wets * wrongWanted;
    rise = (through - main - back - gas + wrong - leak - intoSurface) * hours / P_doubleLayer;
    const double after = before + rise, surfaceRise = intoSurface * hours / P_surface, tBefore = s[TRANSPORT], t = o->tv + o->tc * through;
    s[PLATES] = after; s[SURFACE] = held + surfaceRise; s[TRANSPORT] = t;
    volts += polarity * (after + t) + o->ohms * current;
    const double vented = gas * o->vent, hardens = harden * P_hardening * soft, fresh = soft - main * hours, hardened = fresh * hardens / (1 + hardens);
    s[SOFT] = fresh - hardened;
    s[HARD] = hard - back * hours + hardened;
    s[GASSED] += (gas - wrong) * hours;
    s[VENTED] += (vented + wrong) * hours;
    s[LEAKED] += leak * hours;
    s[WATER] = water - ((main + back) * 0.672 + (vented + wrong) * 0.336) * hours;
    s[FILM] = (s[FILM] + harden * P_filming * soft * soft * (1 - s[FILM] / 4)) / (1 + (main > 0 ? main * hours / 0.035 : 0));
    const double made = (main + back) * hours, leaves = spreads * ((pore + made) / P_poreShare - free / freeWater) / (1 + spreads * (1 / P_poreShare + 1 / freeWater));
    const double down = leaves > 0 ? 0.5 * (1 + P_layering) * leaves : free > 0 ? leaves * lower / free : 0;
    const double mixing = (P_mixingByGas * (vented > 0 ? vented : 0) + P_mixingByItself) * hours, fall = 0.5 * (lower - upper) * mixing / (1 + mixing);
    s[PORE] = pore + made - leaves;
    s[LOWER] = lower + down - fall;
    s[UPPER] = upper + leaves - down + fall;
    chemistry += ((main + back) * (o->rest - REST_PER_K * (298.15 + theta)) + (vented + wrong) * 1.48) * hours + P_doubleLayer * (before + 0.5 * rise) * rise +
                 P_surface * (held + 0.5 * surfaceRise) * surfaceRise + 0.5 * P_transportCapacity * (t * t - tBefore * tBefore);
  }
  chemistry *= C20;
  const double energy = volts * current * C20 * hours, size = CELLS * C20, away = P_cooling * cbrt(size * size) * hours, stores = P_heatCapacity * size;
  const double lost = temperature > 105 ? away * (1 + 40 * (temperature - 105)) : away;
  const double next = (temperature + (energy - chemistry) / stores + lost / stores * AMBIENT) / (1 + lost / stores);
  state[BASE] = next;
  state[BASE + 1] += current * C20 * hours;
  state[BASE + 2] += energy;
  state[BASE + 3] += chemistry;
  state[BASE + 4] += lost * (next - AMBIENT);
  return volts;
}

static double take(double *s, double hours, double amps, double limit) {
  double c = amps / C20;
  closeStep(s, hours, c);
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
    int extrapolates = 1;
    for (int k = 0; k < CELLS; k++) {
      const double *h = halves + k * SIZE, *w = whole + k * SIZE;
      worst = fmax(worst, fabs(h[PLATES] - w[PLATES]) / volt);
      worst = fmax(worst, fabs(h[SOFT] - w[SOFT]) / CHARGE);
      worst = fmax(worst, fabs(h[PORE] - w[PORE]) / CHARGE);
      for (int i = SOFT; i <= WATER; i++) if (2 * h[i] < w[i]) extrapolates = 0;
    }
    if (worst <= 1 || seconds <= 0.02) {
      for (int i = 0; i < STATE; i++) state[i] = extrapolates ? 2 * halves[i] - whole[i] : halves[i];
      outV = extrapolates ? 2 * halvesV - wholeV : halvesV;
      if (amps > 0 && outV > limit) outV = limit;
      nextS = fmax(0.02, seconds * fmin(4, worst < 0.02 ? 4 : 0.9 / sqrt(worst)));
      return seconds;
    }
    seconds = fmax(0.02, seconds * fmax(0.2, 0.9 / sqrt(worst)));
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
