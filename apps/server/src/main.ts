import { readFileSync } from "node:fs";
import { createServer } from "node:http";
import { dirname, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { pino } from "pino";
import { readConfig } from "./config.ts";
import { seedDemo, seedVehicles } from "./demo/seed.ts";
import { createApp } from "./http/app.ts";
import { attachLink } from "./link/socket.ts";
import { createStandIns } from "./link/stand-in-process.ts";
import { FolderHeldError } from "./store/hold-folder.ts";
import { createJobStore } from "./store/job-store.ts";
import { openStore } from "./store/open.ts";
import { createVehicleStore } from "./store/vehicle-store.ts";

/** How long an idle connection is kept; browsers let go of theirs before. */
const KEEP_ALIVE_MS = 10 * 60 * 1000;

/** Wiring only. Both src/main.ts and dist/main.mjs lie three folders below the top. */
async function main(): Promise<void> {
  const root = resolve(dirname(fileURLToPath(import.meta.url)), "../../..");
  const config = readConfig(process.env, root);
  const log = pino({ level: config.logLevel });
  const { version } = JSON.parse(readFileSync(resolve(root, "package.json"), "utf8")) as { version: string };
  const opened = await openStore(config);
  const store = createJobStore(opened.db);
  const vehicles = createVehicleStore(opened.db);
  if (config.seedDemo) {
    await seedVehicles(vehicles, root, new Date());
    await seedDemo(store, root, new Date());
  }
  const server = createServer(createApp({ store, vehicles, root, version, log, now: () => new Date() }));
  const standIns = createStandIns();
  attachLink(server, { store, root, standIns, now: () => new Date() });
  server.on("error", (error: NodeJS.ErrnoException) => {
    const words =
      error.code === "EADDRINUSE" ? `Port ${config.port} on ${config.host} is taken. Set PORT to another number.` : error.message;
    process.stderr.write(`${words}\n`);
    void opened.close().finally(() => process.exit(1));
  });
  // A browser that is idle for a few seconds between two readings must not meet a connection that is just being closed.
  server.keepAliveTimeout = KEEP_ALIVE_MS;
  server.listen(config.port, config.host, () => {
    const address = server.address();
    const port = typeof address === "object" && address !== null ? address.port : config.port;
    process.stdout.write(`Rheonom is ready at http://${config.host.includes(":") ? `[${config.host}]` : config.host}:${port}/\n`);
  });
  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    standIns.stopAll();
    server.close();
    server.closeAllConnections();
    void opened.close().finally(() => process.exit(0));
  };
  process.on("SIGINT", stop);
  process.on("SIGTERM", stop);
}

main().catch((error: unknown) => {
  process.stderr.write(error instanceof FolderHeldError || error instanceof Error ? `${error.message}\n` : `${String(error)}\n`);
  process.exit(1);
});
