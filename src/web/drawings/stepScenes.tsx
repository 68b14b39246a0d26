import type { ReactNode } from 'react';
import {
  INK,
  SOFT,
  PALE,
  PLUS,
  ACID,
  WARM,
  GOOD,
  LINE,
  Battery,
  Lead,
  Said,
  Order,
  Clock,
  Box,
  Lid,
} from './scenePieces.tsx';

const look = (
  <>
    <Battery />
    <circle cx="150" cy="92" r="26" fill="#ffffff88" stroke={INK} strokeWidth="3" />
    <path {...LINE} d="M169 111 l20 18" strokeWidth={6} />
  </>
);
const meter = (
  <>
    <Battery />
    <Box x={4} y={40}>
      <rect x="10" y="46" width="40" height="16" rx="2" fill={PALE} />
      <Said x={30} y={59}>
        12.84
      </Said>
    </Box>
    <path {...LINE} d="M20 86 C20 20 87 0 87 50" stroke={PLUS} strokeWidth={3} />
    <path {...LINE} d="M42 86 C60 130 190 20 153 50" strokeWidth={3} />
  </>
);
const tubes = (tone: string, bubbles: boolean): ReactNode => (
  <>
    <rect x="34" y="8" width="172" height="40" rx="6" fill={tone} stroke={INK} strokeWidth="2" />
    {Array.from({ length: 6 }, (_, i) => (
      <g key={i}>
        <rect
          x={49 + i * 25.6}
          y="46"
          width="14"
          height="30"
          fill={tone}
          stroke={INK}
          strokeWidth="1.5"
        />
        {bubbles && (
          <>
            <circle cx={54 + i * 25.6} cy="38" r="3" fill="var(--color-sheet)" />
            <circle cx={59 + i * 25.6} cy="26" r="4" fill="var(--color-sheet)" />
            <circle cx={54 + i * 25.6} cy="15" r="2.5" fill="var(--color-sheet)" />
          </>
        )}
      </g>
    ))}
    <rect
      x="30"
      y="76"
      width="180"
      height="44"
      rx="4"
      fill="var(--color-sheet)"
      stroke={INK}
      strokeWidth="2"
    />
  </>
);

/** Each step in a few lines: for somebody who has never done it. */
export const SCENES = {
  look,
  foil: (
    <Lid
      y={44}
      port={(i, x) =>
        i === 3 ? (
          <>
            <circle cx={x} cy="64" r="10" fill={INK} />
            <path d={`M${x - 6} 58 l10 -14 6 9 z`} fill={PALE} stroke={INK} />
            <path
              {...LINE}
              d={`M${x - 16} 104 l8 8 M${x - 8} 104 l-8 8`}
              stroke={PLUS}
              strokeWidth={4}
              transform="translate(12 0)"
            />
          </>
        ) : (
          <circle cx={x} cy="64" r="10" fill={PALE} stroke={SOFT} strokeWidth="2" />
        )
      }
    />
  ),
  pack: (
    <>
      <rect x="20" y="20" width="80" height="90" rx="8" fill={PALE} stroke={INK} strokeWidth="2" />
      <Said x={60} y={72} size={24}>
        A-66
      </Said>
      <Said x={120} y={72} size={28}>
        =
      </Said>
      <rect
        x="140"
        y="44"
        width="84"
        height="60"
        rx="4"
        fill="var(--color-sheet)"
        stroke={INK}
        strokeWidth="2"
      />
      <Said x={182} y={82} size={24}>
        A-66
      </Said>
    </>
  ),
  safe: (
    <>
      <path
        {...LINE}
        d="M20 56 q8 -22 34 -22 t34 22 q-4 22 -22 22 q-10 0 -12 -12 q-2 12 -12 12 q-18 0 -22 -22z"
        strokeWidth={3}
        fill="#eaf1f5"
      />
      <path
        {...LINE}
        d="M140 108 v-34 q0 -6 6 -6 v-22 q0 -6 6 -6 t6 6 v-6 q0 -6 6 -6 t6 6 v6 q0 -6 6 -6 t6 6 v40 q0 22 -18 22 z"
        fill={PALE}
        strokeWidth={2.5}
      />
      <path {...LINE} d="M28 104 h70 m-12 -9 l12 9 -12 9" stroke={ACID} strokeWidth={3} />
    </>
  ),
  fill: (
    <>
      <rect
        x="34"
        y="4"
        width="172"
        height="36"
        rx="6"
        fill="#c9dbe4"
        stroke={INK}
        strokeWidth="2"
      />
      {Array.from({ length: 6 }, (_, i) => (
        <rect
          key={i}
          x={49 + i * 25.6}
          y="40"
          width="14"
          height="14"
          fill="#c9dbe4"
          stroke={INK}
          strokeWidth="1.5"
        />
      ))}
      <path {...LINE} d="M120 58 v20 m-9 -9 l9 9 9 -9" stroke={WARM} strokeWidth={4} />
      <rect
        x="30"
        y="84"
        width="180"
        height="38"
        rx="4"
        fill="var(--color-sheet)"
        stroke={INK}
        strokeWidth="2"
      />
    </>
  ),
  bubbles: tubes('#c9dbe4', true),
  empty: tubes('var(--color-sheet)', false),
  wait: (
    <>
      <Battery x={20} />
      <Clock x={184} y={70} r={34} />
    </>
  ),
  charge: (
    <>
      <Battery />
      <Box x={4} y={70}>
        <path d="M32 78 l-9 16 h8 l-4 14 12 -18 h-8 z" fill={WARM} />
      </Box>
      <Lead from={[18, 70]} to="plus" plus />
      <Lead from={[42, 70]} to="minus" plus={false} />
      <Order x={66} y={30} n={1} />
      <Order x={176} y={30} n={2} />
    </>
  ),
  clear: (
    <>
      <Battery x={20} />
      <path {...LINE} d="M40 40 q6 -8 0 -16 M70 40 q6 -8 0 -16 M100 40 q6 -8 0 -16" stroke={SOFT} />
      <Clock x={190} y={72} />
      <Said x={190} y={118}>
        5 min
      </Said>
    </>
  ),
  caps: (
    <>
      <rect
        x="34"
        y="74"
        width="172"
        height="44"
        rx="5"
        fill="var(--color-sheet)"
        stroke={INK}
        strokeWidth="2"
      />
      <rect x="44" y="62" width="152" height="12" rx="4" fill={PALE} stroke={INK} strokeWidth="2" />
      {[64, 120, 176].map((x) => (
        <path key={x} {...LINE} d={`M${x} 22 v30 m-9 -9 l9 9 9 -9`} stroke={WARM} strokeWidth={4} />
      ))}
    </>
  ),
  meter,
  load: (
    <>
      <Battery />
      <Box x={184} y={70}>
        <path {...LINE} d="M194 94 l4 -10 6 20 6 -20 6 20 4 -10" stroke={WARM} strokeWidth={3} />
      </Box>
      <path {...LINE} d="M196 70 C190 10 87 10 87 50" stroke={PLUS} strokeWidth={4} />
      <path {...LINE} d="M224 70 C224 30 153 20 153 50" strokeWidth={4} />
      <Said x={30} y={92} size={20}>
        15 s
      </Said>
    </>
  ),
  tag: (
    <>
      <Battery x={20} />
      <path {...LINE} d="M104 52 q30 -40 54 0" />
      <rect x="150" y="52" width="72" height="44" rx="5" fill={PALE} stroke={INK} strokeWidth="2" />
      <Said x={186} y={80} size={19}>
        LK-0412
      </Said>
    </>
  ),
  acid: (
    <>
      <rect
        x="40"
        y="54"
        width="70"
        height="66"
        rx="6"
        fill="#c9dbe4"
        stroke={INK}
        strokeWidth="2"
      />
      <path {...LINE} d="M75 14 v76" strokeWidth={4} />
      <ellipse cx="75" cy="96" rx="9" ry="14" fill={WARM} stroke={INK} strokeWidth="2" />
      <path {...LINE} d="M150 18 v74" strokeWidth={8} stroke={PALE} />
      <path {...LINE} d="M150 50 v46" strokeWidth={4} stroke={PLUS} />
      <circle cx="150" cy="102" r="12" fill={PLUS} />
      <Said x={196} y={70} size={18}>
        25 °
      </Said>
    </>
  ),
  cells: <Lid y={44} port={(i, x) => <Order x={x} y={64} n={i + 1} />} />,
  level: (
    <>
      <rect
        x="70"
        y="14"
        width="100"
        height="106"
        rx="4"
        fill="var(--color-sheet)"
        stroke={INK}
        strokeWidth="2"
      />
      <rect x="71" y="52" width="98" height="67" fill="#c9dbe4" />
      {[86, 102, 118, 134, 150].map((x) => (
        <path key={x} {...LINE} d={`M${x} 68 v48`} stroke={SOFT} strokeWidth={4} />
      ))}
      <path {...LINE} d="M56 52 h128" stroke={WARM} strokeDasharray="7 5" />
    </>
  ),
  capacity: (
    <>
      <Battery x={14} />
      <circle cx="178" cy="48" r="24" fill="#fbeecb" stroke={INK} strokeWidth="2" />
      <path {...LINE} d="M170 72 h16 M172 79 h12 M168 48 l6 8 8 -12 6 8" />
      <Clock x={206} y={104} r={18} />
    </>
  ),
  wake: (
    <>
      <Battery x={8} label={false} />
      <Battery x={132} label={false} />
      <path {...LINE} d="M25 50 C25 0 149 0 149 50" stroke={PLUS} strokeWidth={4} />
      <path {...LINE} d="M91 50 C100 24 200 24 215 50" strokeWidth={4} />
      <Said x={58} y={98} size={18}>
        5.1 V
      </Said>
      <Said x={182} y={98} size={18} tone={GOOD}>
        12.8 V
      </Said>
    </>
  ),
  rinse: (
    <>
      <path
        d="M30 60 h180 q0 56 -60 58 h-60 q-60 -2 -60 -58 z"
        fill="#d9c9ae"
        stroke={INK}
        strokeWidth="2"
      />
      {[70, 100, 126, 150, 172, 88, 140].map((x, i) => (
        <path key={x} d={`M${x} ${78 + (i % 3) * 10} l8 -4 3 7 -8 3z`} fill="#4a3521" />
      ))}
      <path {...LINE} d="M120 10 v40" stroke={ACID} strokeWidth={10} opacity="0.6" />
    </>
  ),
} satisfies Record<string, ReactNode>;
export type Scene = keyof typeof SCENES;
