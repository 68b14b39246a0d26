import { Air } from './Air.tsx';
import { CorrectSg, Mix, Spill, TopUpCalculator } from './Calculators.tsx';
import { Lots } from './Lots.tsx';

/** Where acid and water are kept, mixed, corrected and neutralised, and the air that clears the gas. */
export function WetRoom() {
  return (
    <div className="grid gap-x-8 gap-y-6 p-4 md:p-6 xl:grid-cols-[minmax(0,1fr)_minmax(0,27rem)]">
      <h1 className="text-3xl xl:col-span-2">Wet room</h1>
      <div className="grid min-w-0 content-start gap-6">
        <Mix />
        <div className="grid gap-6 md:grid-cols-2">
          <CorrectSg />
          <TopUpCalculator />
        </div>
        <Spill />
      </div>
      <div className="grid min-w-0 content-start gap-6">
        <Air />
        <Lots />
      </div>
    </div>
  );
}
