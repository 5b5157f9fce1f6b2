import cluster from "node:cluster";
import { CRASHED } from "./crash.ts";
import { FRUGAL } from "./frugal.ts";

/** Starts anew at most so often within the window, ms; a server that dies faster has something that no start mends. */
const MOST_STARTS = 6;
const WINDOW_MS = 60_000;
const FIRST_PAUSE_MS = 200;
/** How long the server may take to stop before it is ended, ms. */
const PATIENCE_MS = 5000;

/**
 * Watches over the server: a process of Node's cluster, so that it goes with this one, and is started anew when it dies of anything but its own wish. What made it die stands in
 * its log. A signal to this process reaches it.
 */
export function supervise(program: string): void {
  cluster.setupPrimary({ exec: program, args: [], execArgv: [...process.execArgv, ...FRUGAL.execArgv], silent: false });
  const starts: number[] = [];
  let stopping = false;
  let port: string | undefined;

  const start = (): void => {
    starts.push(Date.now());
    // A port that was chosen by the system stays the same for the pages that are open.
    const worker = cluster.fork({ ...FRUGAL.env, ...(port === undefined ? {} : { PORT: port }) });
    worker.on("listening", (address) => (port = String(address.port)));
    worker.on("exit", (code, signal) => {
      if (stopping || code === 0) process.exit(code);
      const mended = code !== CRASHED && signal === null;
      if (mended) process.exit(code);
      const recent = starts.filter((at) => Date.now() - at < WINDOW_MS).length;
      if (recent >= MOST_STARTS) {
        process.stderr.write(`The server has ended ${recent} times within a minute and is not started again. Its log says why.\n`);
        process.exit(CRASHED);
      }
      process.stderr.write(`The server has ended (${signal ?? `code ${code}`}) and is started again.\n`);
      setTimeout(start, FIRST_PAUSE_MS * 2 ** (recent - 1));
    });
  };
  const stop = (signal: NodeJS.Signals): void => {
    if (stopping) return;
    stopping = true;
    const workers = Object.values(cluster.workers ?? {});
    if (workers.length === 0) process.exit(0);
    for (const worker of workers) worker?.process.kill(signal);
    setTimeout(() => {
      for (const worker of workers) worker?.process.kill("SIGKILL");
    }, PATIENCE_MS).unref();
  };
  process.on("SIGINT", stop);
  process.on("SIGTERM", stop);
  start();
}
