/** Signs on a battery’s label, and what they ask of you. The drawings are our own (web/drawings/LabelSign.tsx). */
export const SIGNS = [
  {
    key: 'goggles',
    name: 'Protect your eyes',
    text: 'Goggles on before a cap comes off. Acid in an eye: water for minutes, then a doctor.',
  },
  {
    key: 'flame',
    name: 'No flame, no spark',
    text: 'Hydrogen stands over a battery on charge. No smoking, no grinding, charger off before the clips.',
  },
  {
    key: 'children',
    name: 'Keep children away',
    text: 'Acid and heavy currents. Never leave a battery where a child can reach it.',
  },
  {
    key: 'acid',
    name: 'Acid',
    text: 'Sulfuric acid burns skin and cloth. Bicarbonate and water are beside the bench.',
  },
  {
    key: 'leaflet',
    name: 'Read the leaflet',
    text: 'The maker’s instructions come first, before any rule of this shop.',
  },
  {
    key: 'gas',
    name: 'Explosive gas',
    text: 'Let air in while it charges. Vents open, transport plug out, tube led away.',
  },
  {
    key: 'recycle',
    name: 'Recycle',
    text: 'Lead and acid go to a licensed recycler, with the acid in it. Never into the bin.',
  },
] as const;
export type SignKey = (typeof SIGNS)[number]['key'];
