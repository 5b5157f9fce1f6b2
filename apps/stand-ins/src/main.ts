import { createInterface } from "node:readline";
import { parseArgs } from "node:util";
import { z } from "zod";
import { faultSchema } from "@rheonom/core/circuit";
import { harnessSchema } from "@rheonom/core/harness";
import { COMMAND_HELP, readCommand, startState } from "./vehicle/control.ts";
import { runVehicle, type VehicleOptions } from "./vehicle/run.ts";

/** Nobody's: no maker has a number that begins with 0. */
const DEMO_VIN = "0NLSKERR0WT000001";
const WORKSHOP_C = 20;
const MOST_DRIVEN = 100;

class UsageError extends Error {}

const given = z.object({ harness: harnessSchema, faults: z.array(faultSchema).max(20).default([]) });

/**
 * The process behind `rheonom stand-in vehicle` and behind the simulated vehicle of a demo job. The first line of its input is `{"harness": …, "faults": […]}`, every further one
 * a command. Ends with its input, or at "quit".
 */
async function main(argv: readonly string[]): Promise<void> {
  const v = valuesOf(argv);
  const port = Number(v.port);
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new UsageError("--port is a number from 0 to 65535.");
  const driven = Number(v.driven);
  if (!Number.isInteger(driven) || driven < 0 || driven > MOST_DRIVEN)
    throw new UsageError(`--driven is a number of cycles from 0 to ${MOST_DRIVEN}.`);
  const lines = createInterface({ input: process.stdin })[Symbol.asyncIterator]();
  const { harness, faults } = await givenBy(lines);
  const options: VehicleOptions = { harness, faults, host: v.host, port, vin: v.vin, state: startState(WORKSHOP_C), chance: Math.random };
  const vehicle = await runVehicle(options).catch((error: NodeJS.ErrnoException) => {
    throw new UsageError(error.code === "EADDRINUSE" ? `Port ${port} on ${v.host} is taken. Give --port another number.` : error.message);
  });
  // What its modules remember of the drives before it came in.
  if (driven > 0) vehicle.command({ do: "drive", cycles: driven });
  const say = (data: object, words: string): void => void process.stdout.write(v.json ? `${JSON.stringify(data)}\n` : `${words}\n`);
  say(
    { ready: { host: v.host, port: vehicle.port, vin: v.vin } },
    `The simulated vehicle ${v.vin} answers at ${v.host}:${vehicle.port}.\n${COMMAND_HELP}`,
  );
  let state = options.state;
  for (;;) {
    const { value: line, done } = await lines.next();
    if (done === true || line.trim() === "quit") break;
    if (line.trim() === "") continue;
    const read = readCommand(line, harness, state);
    if (read.kind === "bad") {
      say({ error: read.message }, read.message);
      continue;
    }
    const told = vehicle.command(read.command);
    state = told.state;
    say({ told }, `key ${state.key}, engine ${state.engine}; answering: ${told.answers.join(", ") || "nobody"}`);
  }
  await vehicle.stop();
}

function valuesOf(args: readonly string[]) {
  try {
    return parseArgs({
      args: [...args],
      strict: true,
      options: {
        host: { type: "string", default: "127.0.0.1" },
        port: { type: "string", default: "13400" },
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
