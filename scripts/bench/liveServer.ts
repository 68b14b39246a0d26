// A server of its own process for the telemetry figures: its time is told to it, its cost is asked of it.
import { TestBench } from '../../test/support/bench.ts';

// As in a shop, where the other end may be busy.
TestBench.instrumentTimeoutMs = 700;
const bench = await TestBench.open();
process.send?.({ url: bench.url });
process.on('message', (message: { passMs?: number; close?: boolean }) => {
  if (message.close) {
    void bench.close().then(() => process.exit(0));
    return;
  }
  bench.now += message.passMs ?? 0;
  void bench.live.tick().then(() => {
    const { user, system } = process.cpuUsage();
    process.send?.({
      now: bench.now,
      cpuMs: (user + system) / 1000,
      rssMb: process.memoryUsage().rss / 1e6,
    });
  });
});
