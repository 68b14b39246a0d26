import { PAPERS, type ShopStyle } from '../../core/house/rules.ts';
import { Choice } from '../parts/Choice.tsx';
import { Labelled } from '../parts/Labelled.tsx';

/** How the shop says times and amounts: the same six fields on the first day and under House rules. */
export function StyleFields({
  style,
  zoneFault,
  onChange,
}: {
  style: ShopStyle;
  zoneFault: string | undefined;
  onChange: (changed: Partial<ShopStyle>) => void;
}) {
  return (
    <>
      <Labelled label="Time zone" message={zoneFault}>
        <input
          className="field"
          list="zones"
          value={style.timeZone}
          onChange={(e) => onChange({ timeZone: e.target.value })}
        />
        <datalist id="zones">
          {Intl.supportedValuesOf('timeZone').map((zone) => (
            <option key={zone} value={zone} />
          ))}
        </datalist>
      </Labelled>
      <Choice
        label="Clock"
        value={style.clock}
        options={[
          ['24h', '24 hours'],
          ['12h', 'am and pm'],
        ]}
        onChange={(clock) => onChange({ clock })}
      />
      <Choice
        label="Dates"
        value={style.dateOrder}
        options={[
          ['day-first', 'day, month, year'],
          ['month-first', 'month, day, year'],
        ]}
        onChange={(dateOrder) => onChange({ dateOrder })}
      />
      <Choice
        label="Temperatures in"
        value={style.temperatureUnit}
        options={[
          ['C', '°C'],
          ['F', '°F'],
        ]}
        onChange={(temperatureUnit) => onChange({ temperatureUnit })}
      />
      <Choice
        label="Volumes and weights in"
        value={style.volumeUnit}
        options={[
          ['mL', 'mL, g'],
          ['oz', 'fl oz, lb'],
        ]}
        onChange={(volumeUnit) => onChange({ volumeUnit })}
      />
      <Choice
        label="Paper"
        value={style.paper}
        options={PAPERS.map((paper) => [paper, paper])}
        onChange={(paper) => onChange({ paper })}
      />
    </>
  );
}
