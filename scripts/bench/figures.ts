import { performance } from 'node:perf_hooks';

/** How figures are taken and said. */

const percentile = (sorted: readonly number[], p: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor((sorted.length * p) / 100))] ?? 0;

export const spreadOf = (values: readonly number[]): { p50: number; p95: number } => {
  const sorted = values.toSorted((a, b) => a - b);
  return { p50: percentile(sorted, 50), p95: percentile(sorted, 95) };
};

export async function measure(
  times: number,
  work: (i: number) => unknown,
): Promise<{ p50: number; p95: number }> {
  const took: number[] = [];
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    await work(i);
    took.push(performance.now() - began);
  }
  return spreadOf(took);
}

export function title(text: string): void {
  console.log(`\n${text}`);
}

export function say(what: string, figure: string, yardstick = ''): void {
  console.log(`${what.padEnd(56)} ${figure.padStart(20)}   ${yardstick}`);
}

export const ms = (n: number): string => `${n.toFixed(2)} ms`;
