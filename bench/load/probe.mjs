// Loaded into the server by --import: tells on SIGUSR2 how long its event loop was held up since the last time, and what memory the process takes.
import { monitorEventLoopDelay } from "node:perf_hooks";
import { isMainThread } from "node:worker_threads";

if (isMainThread) {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  process.on("SIGUSR2", () => {
    const ms = (ns) => Math.max(0, ns / 1e6 - 5);
    const told = {
      p99Ms: ms(delay.percentile(99)),
      p999Ms: ms(delay.percentile(99.9)),
      maxMs: ms(delay.max),
      rssMb: process.memoryUsage().rss / 2 ** 20,
    };
    delay.reset();
    process.stdout.write(`probe ${JSON.stringify(told)}\n`);
  });
}
