import { createInterface } from "node:readline";
import { parseArgs } from "node:util";
import { z } from "zod";
import { faultSchema } from "@rheonom/core/circuit";
import { harnessSchema } from "@rheonom/core/harness";
import { BENCH_HELP, readBenchCommand, workBench } from "./bench/control.ts";
import { createMeter } from "./bench/meter.ts";
import { runInstrument } from "./bench/run.ts";
import { createScope } from "./bench/scope.ts";
import { createBenchWorld } from "./bench/world.ts";
import { COMMAND_HELP, readCommand, startState } from "./vehicle/control.ts";
import { runVehicle, type VehicleOptions } from "./vehicle/run.ts";

/** Nobody's: no maker has a number that begins with 0. */
const DEMO_VIN = "0NLSKERR0WT000001";
const WORKSHOP_C = 20;
const MOST_DRIVEN = 100;

class UsageError extends Error {}

/** The port that instruments usually have for messages over TCP. */
const KINDS = { vehicle: "13400", meter: "5025", scope: "5025" } as const;
type Kind = keyof typeof KINDS;

type Lines = AsyncIterator<string>;
type Say = (data: object, words: string) => void;

const given = z.object({ harness: harnessSchema, faults: z.array(faultSchema).max(20).default([]) });

/**
 * The process behind `rheonom stand-in vehicle|meter|scope` and behind the simulated vehicle and instruments of a demo job. The first line of its input is `{"harness": …, "faults": […]}`, every further one
 * a command. Ends with its input, or at "quit".
 */
async function main(argv: readonly string[]): Promise<void> {
  const v = valuesOf(argv);
  if (!(v.kind in KINDS)) throw new UsageError(`There is no stand-in "${v.kind}". There are: ${Object.keys(KINDS).join(", ")}.`);
  const kind = v.kind as Kind;
  const port = Number(v.port ?? KINDS[kind]);
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new UsageError("--port is a number from 0 to 65535.");
  const driven = Number(v.driven);
  if (!Number.isInteger(driven) || driven < 0 || driven > MOST_DRIVEN)
    throw new UsageError(`--driven is a number of cycles from 0 to ${MOST_DRIVEN}.`);
  const lines = createInterface({ input: process.stdin })[Symbol.asyncIterator]();
  const circuit = await givenBy(lines);
  const say: Say = (data, words) => void process.stdout.write(v.json ? `${JSON.stringify(data)}\n` : `${words}\n`);
  if (kind === "vehicle") await vehicle({ ...circuit, host: v.host, port, vin: v.vin, driven }, lines, say);
  else await instrument(kind, { ...circuit, host: v.host, port }, lines, say);
}

interface Place {
  readonly harness: VehicleOptions["harness"];
  readonly faults: VehicleOptions["faults"];
  readonly host: string;
  readonly port: number;
}

/** Commands line by line until "quit" or the end of the input. */
async function* commandsOf(lines: Lines): AsyncGenerator<string> {
  for (;;) {
    const { value: line, done } = await lines.next();
    if (done === true || line.trim() === "quit") return;
    if (line.trim() !== "") yield line;
  }
}

const portTaken = (host: string, port: number) => (error: NodeJS.ErrnoException) => {
  throw new UsageError(error.code === "EADDRINUSE" ? `Port ${port} on ${host} is taken. Give --port another number.` : error.message);
};

async function vehicle(o: Place & { readonly vin: string; readonly driven: number }, lines: Lines, say: Say): Promise<void> {
  const options: VehicleOptions = { ...o, state: startState(WORKSHOP_C), chance: Math.random };
  const running = await runVehicle(options).catch(portTaken(o.host, o.port));
  // What its modules remember of the drives before it came in.
  if (o.driven > 0) running.command({ do: "drive", cycles: o.driven });
  say(
    { ready: { host: o.host, port: running.port, vin: o.vin } },
    `The simulated vehicle ${o.vin} answers at ${o.host}:${running.port}.\n${COMMAND_HELP}`,
  );
  let state = options.state;
  for await (const line of commandsOf(lines)) {
    const read = readCommand(line, o.harness, state);
    if (read.kind === "bad") {
      say({ error: read.message }, read.message);
      continue;
    }
    const told = running.command(read.command);
    state = told.state;
    say({ told }, `key ${state.key}, engine ${state.engine}; answering: ${told.answers.join(", ") || "nobody"}`);
  }
  await running.stop();
}

async function instrument(kind: "meter" | "scope", o: Place, lines: Lines, say: Say): Promise<void> {
  const world = createBenchWorld(o.harness, o.faults, startState(WORKSHOP_C), Math.random);
  const device = kind === "meter" ? createMeter(world) : createScope(world);
  const running = await runInstrument(device, o.host, o.port).catch(portTaken(o.host, o.port));
  say(
    { ready: { host: o.host, port: running.port, vin: "" } },
    `The simulated ${kind} answers at ${o.host}:${running.port}. Its leads are on nothing yet.\n${BENCH_HELP}`,
  );
  for await (const line of commandsOf(lines)) {
    const read = readBenchCommand(line, o.harness, world.state());
    if (read.kind === "bad") {
      say({ error: read.message }, read.message);
      continue;
    }
    workBench(world, read.command);
    // As a meter shows it by a sign in its display.
    if (read.command.do === "battery" && read.command.low) device.raise("system", "battery low");
    const state = world.state();
    const leads = world.leads();
    const where =
      leads.on === "places"
        ? `red ${leads.red}, black ${leads.black}`
        : leads.on === "wire"
          ? `clamp around ${leads.around}`
          : `leads on ${leads.on}`;
    say({ told: { state, answers: [] } }, `${where}; key ${state.key}, engine ${state.engine}`);
  }
  await running.stop();
}

function valuesOf(args: readonly string[]) {
  try {
    return parseArgs({
      args: [...args],
      strict: true,
      options: {
        host: { type: "string", default: "127.0.0.1" },
        kind: { type: "string", default: "vehicle" },
        port: { type: "string" },
        vin: { type: "string", default: DEMO_VIN },
        json: { type: "boolean", default: false },
        driven: { type: "string", default: "0" },
      },
    }).values;
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
}

async function givenBy(lines: AsyncIterator<string>): Promise<z.infer<typeof given>> {
  const { value, done } = await lines.next();
  if (done === true) throw new UsageError("The input ended before the harness.");
  try {
    return given.parse(JSON.parse(value));
  } catch (error) {
    throw new UsageError(`The first line is not a harness with faults: ${error instanceof Error ? error.message.slice(0, 300) : ""}`);
  }
}

main(process.argv.slice(2)).then(
  () => process.exit(0),
  (error: unknown) => {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    process.exit(error instanceof UsageError ? 2 : 1);
  },
);
