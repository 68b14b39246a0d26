/**
 * Case codes of the usual standards (European H, American groups, Japanese letters), with the C20 that ordinary batteries in
 * such a case have, Ah. Of the battery as it is: 6 V where the code is a 6 V case. Usual catalogue ranges.
 */
export const CASES = {
  H3: { name: 'H3 / LN0 / L0', ah: [38, 46] },
  H4: { name: 'H4 / LN1 / L1', ah: [43, 56] },
  H5: { name: 'H5 / LN2 / L2, group 47', ah: [52, 65] },
  H6: { name: 'H6 / LN3 / L3, group 48', ah: [66, 80] },
  H7: { name: 'H7 / LN4 / L4, group 94R', ah: [76, 92] },
  H8: { name: 'H8 / LN5 / L5, group 49', ah: [88, 108] },
  H9: { name: 'H9 / LN6 / L6', ah: [100, 115] },
  A: { name: 'A, truck, 513 × 189 mm', ah: [115, 150] },
  B: { name: 'B, truck, 513 × 223 mm', ah: [160, 195] },
  C: { name: 'C, truck, 518 × 276 mm', ah: [200, 235] },
  B19: { name: 'B19', ah: [27, 40] },
  B24: { name: 'B24', ah: [35, 48] },
  D23: { name: 'D23', ah: [48, 68] },
  D26: { name: 'D26', ah: [55, 80] },
  D31: { name: 'D31', ah: [68, 100] },
  E41: { name: 'E41', ah: [80, 120] },
  F51: { name: 'F51', ah: [110, 150] },
  G51: { name: 'G51', ah: [135, 170] },
  H52: { name: 'H52', ah: [165, 220] },
  U1: { name: 'Group U1', ah: [24, 36] },
  G24: { name: 'Group 24', ah: [62, 85] },
  G27: { name: 'Group 27', ah: [80, 105] },
  G31: { name: 'Group 31', ah: [92, 120] },
  G34: { name: 'Group 34', ah: [48, 70] },
  G35: { name: 'Group 35', ah: [44, 62] },
  G51R: { name: 'Group 51, 51R', ah: [38, 52] },
  G65: { name: 'Group 65', ah: [62, 82] },
  G75: { name: 'Group 75, 78', ah: [48, 72] },
  '4D': { name: 'Group 4D', ah: [155, 210] },
  '8D': { name: 'Group 8D', ah: [205, 260] },
  GC2: { name: 'Group GC2, 6 V', ah: [180, 245] },
} as const satisfies Record<string, { name: string; ah: readonly [number, number] }>;

export type CaseKey = keyof typeof CASES;
export const CASE_KEYS = Object.keys(CASES) as readonly CaseKey[];
