import { kindOf, type KindKey } from '../../../core/batteries/kinds.ts';

/** Kinds a battery without a label can be, and how one tells them by looking. */
const TELLS: readonly { kind: KindKey; title: string; tell: string }[] = [
  {
    kind: 'flooded-dry',
    title: 'Flooded, caps come off',
    tell: 'Six caps or a strip that lifts off; liquid inside.',
  },
  {
    kind: 'flooded-sealed',
    title: 'Flooded, closed',
    tell: 'Flat lid or a decal over the ports, perhaps an eye. Tilted a little, it sloshes.',
  },
  {
    kind: 'agm-sealed',
    title: 'AGM',
    tell: 'AGM, VRLA or “sealed, do not open”. Heavy, nothing sloshes.',
  },
  { kind: 'gel', title: 'Gel', tell: 'GEL is printed on it. Nothing sloshes.' },
  {
    kind: 'lithium',
    title: 'Lithium',
    tell: 'Light for its size; Li, LiFePO4 or BMS is printed.',
  },
];

/** Which kind it is, by pictures. */
export function KindPicker({
  value,
  onChange,
}: {
  value: string;
  onChange: (kind: KindKey) => void;
}) {
  const kind = kindOf(value);
  return (
    <fieldset>
      <legend className="label mb-1">Kind: what do you see?</legend>
      <div className="grid gap-2">
        {TELLS.map(({ kind: key, title, tell }) => (
          <label
            key={key}
            className={`flex min-h-14 cursor-pointer items-start gap-3 rounded-md border p-2.5 has-focus-visible:outline-3 has-focus-visible:outline-slate ${value === key ? 'border-2 border-ink bg-sheet' : 'border-line'}`}
          >
            <input
              type="radio"
              name="kind"
              className="sr-only"
              checked={value === key}
              onChange={() => onChange(key)}
            />
            <Seen kind={key} />
            <span className="min-w-0">
              <b className="block font-label text-lg leading-tight font-semibold">{title}</b>
              <span className="block text-[15px] leading-snug text-soft">{tell}</span>
            </span>
          </label>
        ))}
      </div>
      {'refusal' in kind && (
        <p
          role="alert"
          className="mt-2 rounded-md border-l-8 border-oxide bg-oxide-pale px-4 py-3 text-lg"
        >
          <b>Refused. </b>
          {kind.refusal}
        </p>
      )}
    </fieldset>
  );
}

/** The lid of each kind as one looks down on it. */
function Seen({ kind }: { kind: KindKey }) {
  const ports = [10, 19, 28, 37, 46, 55];
  return (
    <svg viewBox="0 0 66 42" className="w-16 shrink-0 text-ink" aria-hidden>
      <rect
        x="2"
        y="6"
        width="62"
        height="34"
        rx="4"
        className="fill-hair stroke-ink"
        strokeWidth="2"
      />
      <rect x="6" y="2" width="8" height="6" className="fill-ink" />
      <rect x="52" y="2" width="8" height="6" className="fill-ink" />
      {kind === 'flooded-dry' &&
        ports.map((x) => (
          <g key={x}>
            <circle cx={x} cy="23" r="4" className="fill-sheet stroke-ink" strokeWidth="1.5" />
            <path d={`M${x - 2.5} 23h5`} className="stroke-ink" strokeWidth="1.5" />
          </g>
        ))}
      {kind === 'flooded-sealed' && (
        <>
          <rect
            x="8"
            y="17"
            width="38"
            height="12"
            rx="2"
            className="fill-sheet stroke-ink"
            strokeWidth="1.5"
          />
          <circle cx="55" cy="23" r="4" className="fill-slate stroke-ink" strokeWidth="1.5" />
        </>
      )}
      {(kind === 'agm-sealed' || kind === 'gel' || kind === 'lithium') && (
        <text
          x="33"
          y="29"
          textAnchor="middle"
          className="fill-ink font-label text-[15px] font-semibold"
        >
          {kind === 'gel' ? 'GEL' : kind === 'lithium' ? 'Li' : 'AGM'}
        </text>
      )}
    </svg>
  );
}
