import type { Diagnosis } from '../../../../core/diagnosis/diagnose.ts';
import { FAMILIES } from '../../../../core/diagnosis/practice/families.ts';
import type { Why, WhyUnit } from '../../../../core/diagnosis/practice/whys.ts';
import { FAMILY_COLOURS } from './FamilyBars.tsx';

const WIDTH = 340;
/** Room at the edges of the bars, and for the names before them: a letter is at most so wide. */
const EDGE = 4;
const LETTER = 6.2;
const ROW = 13;

const DECIMALS: Readonly<Record<WhyUnit, number>> = { V: 2, SG: 3, '%': 0, mΩ: 1, '': 2 };
export const valueWords = (value: number, unit: WhyUnit): string =>
  `${value.toFixed(DECIMALS[unit])}${unit === '' || unit === 'SG' ? '' : ` ${unit}`}`;

/** Each reading beside what batteries of the likeliest families read: bars for them, a line for this one. */
export function Whys({ diagnosis }: { diagnosis: Diagnosis }) {
  const whys = diagnosis.whys.filter((w) => w.families.length > 0);
  return (
    <section aria-label="Why">
      <h3 className="border-b border-line pb-1 text-xl">Why</h3>
      {whys.length === 0 ? (
        <p className="pt-2 text-soft">
          Nothing is measured yet. So far it is only what happened to it.
        </p>
      ) : (
        <ul>
          {whys.map((why) => (
            <WhyLine key={`${why.feature}`} why={why} />
          ))}
        </ul>
      )}
      {whys.length > 0 && (
        <p className="pt-1 text-[15px] text-soft">
          Bars: where batteries of each kind read. Line: this one.
        </p>
      )}
    </section>
  );
}

function WhyLine({ why }: { why: Why }) {
  const { name, value, unit, least, most, families } = why;
  const named = families.map(({ family }) => FAMILIES[family].name.toLowerCase());
  const left = Math.max(...named.map(({ length }) => length)) * LETTER + 2 * EDGE;
  const x = (v: number): number =>
    left + ((v - least) / (most - least || 1)) * (WIDTH - EDGE - left);
  const height = families.length * ROW + 8;
  return (
    <li className="grid items-center gap-x-4 gap-y-1 border-b border-line py-2 sm:grid-cols-[8.5rem_minmax(0,1fr)]">
      <div className="leading-tight">
        <span className="label block">{name}</span>
        <b className="font-label text-2xl font-semibold">{valueWords(value, unit)}</b>
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${height + 14}`}
        className="block w-full max-w-[340px]"
        role="img"
        aria-label={`${name} ${valueWords(value, unit)}. ${families
          .map(
            (f) =>
              `${FAMILIES[f.family].name}: ${valueWords(f.low, unit)} to ${valueWords(f.high, unit)}`,
          )
          .join('. ')}`}
      >
        {families.map(({ family, low, high }, i) => {
          const [from, to] = [x(low), x(high)];
          return (
            <g key={family}>
              <rect
                x={from}
                y={4 + i * ROW}
                width={Math.max(3, to - from)}
                height={8}
                rx={1.5}
                fill={FAMILY_COLOURS[Math.min(i, FAMILY_COLOURS.length - 1)]}
              />
              <text
                x={left - EDGE}
                y={12 + i * ROW}
                fontSize={13}
                textAnchor="end"
                className="fill-ink font-label"
              >
                {named[i]}
              </text>
            </g>
          );
        })}
        <line x1={left} x2={WIDTH - EDGE} y1={height} y2={height} stroke="var(--color-line)" />
        <line
          x1={x(value)}
          x2={x(value)}
          y1={0}
          y2={height}
          stroke="var(--color-ink)"
          strokeWidth={2.5}
        />
        <text x={left} y={height + 12} fontSize={12} className="fill-soft font-label">
          {least.toFixed(DECIMALS[unit])}
        </text>
        <text
          x={WIDTH - EDGE}
          y={height + 12}
          fontSize={12}
          textAnchor="end"
          className="fill-soft font-label"
        >
          {most.toFixed(DECIMALS[unit])}
        </text>
      </svg>
      <p className="text-[15px] leading-snug text-soft sm:col-start-2">{saysWords(why)}</p>
    </li>
  );
}

/** What one reading says, in a sentence. */
function saysWords({ families }: Why): string {
  const named = (fits: 'yes' | 'low' | 'high'): string =>
    families
      .filter((f) => f.fits === fits)
      .map((f) => FAMILIES[f.family].is)
      .join(' and ');
  const [yes, low, high] = [named('yes'), named('low'), named('high')];
  if (yes !== '' && low === '' && high === '')
    return 'All of them read so. It decides nothing here.';
  if (yes === '') return 'None of them reads so. Look again at this one.';
  return `Fits ${yes}${low ? `; low for ${low}` : ''}${high ? `; high for ${high}` : ''}.`;
}
