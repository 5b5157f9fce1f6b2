/**
 * How fast a scan is, whether live values keep up, and how long codes take to be sorted. Run: node --import ./scripts/ts-hook.mjs bench/link.ts [minutes of live reading]
 */
import { readFileSync } from "node:fs";
import { fork } from "node:child_process";
import { fileURLToPath } from "node:url";
import { REST_STATE } from "@rheonom/core/circuit";
import { addressedModules, liveValuesOf, triage, type CodeEntry } from "@rheonom/core/codes";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { connectVehicle } from "../apps/server/src/link/doip-client.ts";
import { readLive } from "../apps/server/src/link/live.ts";
import { scanVehicle } from "../apps/server/src/link/scan.ts";
import { runVehicle } from "../apps/stand-ins/src/vehicle/run.ts";

const load = (name: string): Harness =>
  resolveVariant(parseNotation(readFileSync(new URL(`../demo/vehicles/${name}.circuit`, import.meta.url), "utf8")).harness!, []);

/** Twelve modules on one pair of wires, one without feed and one without ground, each watching one line. */
function twelve(): Harness {
  const ids = Array.from({ length: 12 }, (_, i) => `M${i + 1}`);
  const text = [
    'circuit "twelve modules"',
    "BAT(12.6V)",
    "G1 -- BK 16mm2 0.5m -- BAT",
    "BAT -- F1(30A) -- RD 4mm2 0.5m -- S1",
    ...ids.flatMap((id, i) => [
      `${id}(module pin 1 supply, pin 2 ground, pin H canh, pin L canl, pin 3 input pullVolts=supply pullOhms=1000)`,
      i === 10 ? "" : `S1 -- RD 1mm2 0.5m -- ${id}.1`,
      i === 11 ? "" : `${id}.2 -- BN 1mm2 0.5m -- G1`,
      `S21 -- GN 0.5mm2 0.5m -- ${id}.H`,
      `S22 -- YE 0.5mm2 0.5m -- ${id}.L`,
    ]),
    "S21 -- GN 0.5mm2 0.2m -- RT1(resistor ohms=60) -- GN 0.5mm2 0.2m -- S22",
    ...ids.map((id, i) => `code U01${(i + 16).toString(16).toUpperCase()} M1 silent ${id} "No word from ${id}"`).slice(1),
    ...ids.map((id, i) => `code B1${(0x200 + i).toString(16).toUpperCase()} ${id}.3 above 4V for 0s "Line of ${id} high"`),
  ].join("\n");
  const { harness, problems } = parseNotation(text);
  if (harness === undefined) throw new Error(problems.map((p) => `${p.line}: ${p.message}`).join("\n"));
  return harness;
}

const MINUTES = Number(process.argv[2] ?? 1);
const run = { ...REST_STATE, key: "run" as const };
const vehicleOf = (harness: Harness) => ({
  harness,
  faults: [],
  state: run,
  vin: "0NLSKERR0WT000001",
  host: "127.0.0.1",
  port: 0,
  chance: Math.random,
});
const sleep = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

// The vehicle in a process of its own, as in use.
if (process.send !== undefined) {
  const vehicle = await runVehicle(vehicleOf(process.argv[3] === "twelve" ? twelve() : load("brigg")));
  process.send(vehicle.port);
} else {
  const start = (name: string): Promise<{ port: number; stop: () => void }> =>
    new Promise((done) => {
      const child = fork(fileURLToPath(import.meta.url), ["0", name], { execArgv: ["--import", "./scripts/ts-hook.mjs"] });
      child.once("message", (port) => done({ port: Number(port), stop: () => child.kill() }));
    });
  const many = await start("twelve");
  await sleep(1500);
  const modules = addressedModules(twelve());
  const times: number[] = [];
  let last = "";
  for (let i = 0; i < 5; i++) {
    const client = await connectVehicle({ host: "127.0.0.1", port: many.port });
    const from = performance.now();
    const { scan } = await scanVehicle(
      client,
      modules,
      () => new Date(),
      () => undefined,
      new AbortController().signal,
    );
    times.push(performance.now() - from);
    last = `${scan.modules.length} modules, ${scan.modules.filter((m) => !m.answers).length} silent, ${scan.codes.length} codes`;
    client.close();
    await sleep(200);
  }
  many.stop();
  console.log(`scan of ${last}: ${times.map((t) => `${(t / 1000).toFixed(2)} s`).join(", ")} (goal 3 s)`);

  const brigg = load("brigg");
  const codes: CodeEntry[] = Array.from({ length: 60 }, (_, i) => {
    const m = brigg.monitors![i % brigg.monitors!.length]!;
    return { module: m.module, code: m.code.slice(0, 5), status: i % 3 === 0 ? "active" : "stored" };
  });
  const scan = {
    format: "rheonom-scan",
    version: 1,
    takenAt: new Date().toISOString(),
    source: "scan",
    modules: [{ id: "TCM", answers: false }],
    codes,
  } as const;
  const ask = { harness: brigg, scan: { ...scan, modules: [...scan.modules], codes }, doneBy: () => [], works: [] };
  const first = performance.now();
  triage(ask);
  const cold = performance.now() - first;
  const sorted = Array.from({ length: 20 }, () => {
    const from = performance.now();
    triage(ask);
    return performance.now() - from;
  });
  console.log(`triage of 60 codes: first ${cold.toFixed(0)} ms, then ${Math.max(...sorted).toFixed(0)} ms at most (goal 100 ms)`);

  const one = await start("brigg");
  const client = await connectVehicle({ host: "127.0.0.1", port: one.port });
  const module = addressedModules(brigg)[0]!;
  const wishes = [
    ...liveValuesOf(brigg, "ECM").map((v) => ({ module, what: { did: v.did, unit: v.unit } })),
    ...[0x0c, 0x42, 0x05, 0x46].map((pid) => ({ module, what: { pid } })),
  ].slice(0, 20);
  let [rounds, lost, latest] = [0, 0, 0];
  await sleep(500);
  global.gc?.();
  const before = process.memoryUsage().heapUsed;
  const live = readLive(client, wishes, 10, (at, values) => {
    rounds++;
    latest = at;
    lost += values.filter((v) => v === null).length;
  });
  await sleep(MINUTES * 60_000);
  live.stop();
  global.gc?.();
  const grown = (process.memoryUsage().heapUsed - before) / 1e6;
  console.log(
    `live: ${wishes.length} values for ${MINUTES} min: ${rounds} rounds, ${((1000 * (rounds - 1)) / latest).toFixed(2)} a second, ${lost} values lost, heap ${grown >= 0 ? "+" : ""}${grown.toFixed(1)} MB${global.gc === undefined ? " (not collected)" : ""}`,
  );
  client.close();
  one.stop();
}
