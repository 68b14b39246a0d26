import { ROUTES } from '../../../core/diagnosis/routes.ts';
import { forecastRecord, routeRecords, shareWords } from '../../../core/recovery/record.ts';
import { useRecoveries } from '../../line/queries.ts';

/** Fewer cases than this are said to be few. */
const FEW = 30;
const percent = (share: number): string => `${(100 * share).toFixed(0)} %`;

/** What each way of recovering has really achieved in this shop, and how the forecasts have held. */
export function Experience() {
  const { data, error } = useRecoveries();
  const results = data?.results ?? [];
  const routes = routeRecords(results);
  const forecast = forecastRecord(results);
  return (
    <section
      id="experience"
      aria-labelledby="experience-title"
      className={`scroll-mt-32 ${data || error ? '' : 'min-h-[90dvh]'}`}
    >
      <h2 id="experience-title" className="mb-2 border-b-2 border-ink pb-1 text-2xl">
        Results so far
      </h2>
      {error && !data && <p className="text-oxide">Not fetched: {error.message}</p>}
      {data && results.length === 0 && (
        <p className="text-lg text-soft">
          No recovery has come to its verdict yet. From the first one on, what each route achieved
          and how its forecast held stands here.
        </p>
      )}
      {routes.length > 0 && (
        <>
          <ul className="grid gap-3">
            {routes.map((r) => (
              <li key={r.route} className="border-b border-line pb-2">
                <b className="font-label text-lg">{ROUTES[r.route].name}</b>
                <span className="block">
                  Returned {shareWords(r.returned)}; kept at all {shareWords(r.kept)}.
                </span>
                <span className="block text-[15px] text-soft">
                  {r.health === null
                    ? 'Capacity never tested'
                    : `Capacity after it ${percent(r.health)} in the middle of ${r.tested}`}
                  {r.hours === null ? '' : `, ${r.hours.toFixed(0)} h on the charger`}.
                </span>
              </li>
            ))}
          </ul>
          <h3 className="mt-3 text-xl">How the forecasts held</h3>
          {forecast.within.of === 0 ? (
            <p className="text-soft">None was made and tested yet.</p>
          ) : (
            <p>
              Capacity within its band of 8 in 10: <b>{shareWords(forecast.within)}</b>. Returns
              expected {forecast.expected.toFixed(1)}, came {forecast.came} of {forecast.of}.
              {forecast.bias !== null &&
                ` On average ${percent(Math.abs(forecast.bias))} ${forecast.bias >= 0 ? 'better' : 'worse'} than said.`}
            </p>
          )}
          {forecast.during.capacity.of + forecast.during.restV.of > 0 && (
            <p className="mt-1">
              Said while it charged, by its own trace: capacity{' '}
              {shareWords(forecast.during.capacity)} within the band, volts a day later{' '}
              {shareWords(forecast.during.restV)}, its end {shareWords(forecast.during.hours)}.
            </p>
          )}
          {results.length < FEW && (
            <p className="mt-1 text-[15px] text-soft">
              Few cases: in brackets what they leave open, 8 in 10.
            </p>
          )}
        </>
      )}
    </section>
  );
}
