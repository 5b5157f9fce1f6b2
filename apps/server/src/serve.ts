import { readFileSync, rmSync } from "node:fs";
import { createServer, type Server } from "node:http";
import { resolve } from "node:path";
import { pino, type Logger } from "pino";
import type { Config } from "./config.ts";
import { guardProcess, inFlight } from "./crash.ts";
import { seedDemo, seedVehicles } from "./demo/seed.ts";
import { attachSockets } from "./doors/upgrade.ts";
import { feedRoute } from "./feed/socket.ts";
import { createHeavy } from "./heavy/pool.ts";
import { createApp } from "./http/app.ts";
import { instrumentRoute } from "./link/instrument-socket.ts";
import { linkRoute } from "./link/socket.ts";
import { createStandIns } from "./link/stand-in-process.ts";
import { createTargets } from "./link/targets.ts";
import { createMediaStore } from "./media/media-store.ts";
import { startStore } from "./store/store.ts";

/** How long an idle connection is kept; browsers let go of theirs before. */
const KEEP_ALIVE_MS = 10 * 60 * 1000;
/** How long the head of a request, and all of it, may take to arrive. */
const HEAD_MS = 20_000;
const REQUEST_MS = 60_000;
/** Whatever runs, the process is gone after so long, ms. */
const STOP_MS = 4500;

/** Wiring only. Resolves when the server listens; rejects with StartError or RangeError of a setting. */
export async function serve(config: Config): Promise<void> {
  const log = pino({ level: config.logLevel });
  const { root } = config;
  const { version } = JSON.parse(readFileSync(resolve(root, "package.json"), "utf8")) as { version: string };
  const ownPorts = new Set<number>();
  if (config.store.databaseUrl !== undefined) ownPorts.add(Number(new URL(config.store.databaseUrl).port || "5432"));
  const targets = createTargets(config.linkRanges, () => ownPorts);
  const store = await startStore(config.store, log);
  if (config.store.startFresh && store.mode().mode === "writable") rmSync(config.mediaFolder, { recursive: true, force: true });
  const now = (): Date => new Date();
  if (config.seedDemo && store.mode().mode === "writable") {
    await seedVehicles(store, root, now());
    await seedDemo(store, root, now());
  }
  const heavy = createHeavy();
  const media = createMediaStore(config.mediaFolder, () => store.mode().why);
  const standIns = createStandIns();
  const door = { openToNetwork: config.openToNetwork, names: config.names };
  const server = createServer(inFlight(createApp({ store, heavy, media, door, root, version, log, now })));
  const line = linkRoute({ store, heavy, root, standIns, targets, log, now });
  const instruments = instrumentRoute({ store, heavy, root, standIns, targets, log });
  attachSockets(server, door, [line, instruments, feedRoute(store)], (error) => log.error({ err: error }, "an upgrade failed"));
  server.on("clientError", (_error, socket) => {
    if (socket.writable) socket.end("HTTP/1.1 400 Bad Request\r\nConnection: close\r\n\r\n");
    else socket.destroy();
  });
  // A browser that is idle for a few seconds between two readings must not meet a connection that is just being closed.
  server.keepAliveTimeout = KEEP_ALIVE_MS;
  server.headersTimeout = HEAD_MS;
  server.requestTimeout = REQUEST_MS;

  let stopping = false;
  const stop = (code: number): void => {
    if (stopping) return;
    stopping = true;
    setTimeout(() => process.exit(code), STOP_MS).unref();
    standIns.stopAll();
    server.close();
    server.closeAllConnections();
    void Promise.allSettled([store.close(), heavy.stop()]).finally(() => process.exit(code));
  };
  guardProcess(log, stop);
  process.on("SIGINT", () => stop(0));
  process.on("SIGTERM", () => stop(0));
  await listen(server, config, log, stop);
  const address = server.address();
  const port = typeof address === "object" && address !== null ? address.port : config.port;
  ownPorts.add(port);
  const { mode, why } = store.mode();
  if (mode !== "writable") process.stdout.write(`The data can only be looked at. ${why}\n`);
  if (config.openToNetwork) process.stdout.write("Everyone on this network can read and change every job.\n");
  process.stdout.write(`Rheonom is ready at http://${config.host.includes(":") ? `[${config.host}]` : config.host}:${port}/\n`);
}

async function listen(server: Server, { host, port }: Config, log: Logger, stop: (code: number) => void): Promise<void> {
  await new Promise<void>((done) => {
    server.on("error", (error: NodeJS.ErrnoException) => {
      if (error.code !== "EADDRINUSE" && error.code !== "EACCES" && error.code !== "EADDRNOTAVAIL")
        return log.error({ err: error }, "the server");
      const words = {
        EADDRINUSE: `Port ${port} on ${host} is taken. Set PORT to another number.`,
        EACCES: `Port ${port} may not be used by this user. Set PORT to a number above 1023.`,
        EADDRNOTAVAIL: `${host} is not an address of this machine. Set HOST to one that is.`,
      }[error.code];
      process.stderr.write(`${words}\n`);
      stop(1);
    });
    server.listen(port, host, done);
  });
}
