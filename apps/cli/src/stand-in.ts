import { spawn } from "node:child_process";
import { fileURLToPath } from "node:url";
import { parseArgs } from "node:util";
import { truthsNamed } from "./practise.ts";
import { readCircuit } from "./circuit-options.ts";
import { UsageError, type Output } from "./usage.ts";

const OPTIONS = {
  harness: { type: "string" },
  options: { type: "string" },
  fault: { type: "string", multiple: true },
  severity: { type: "string", multiple: true },
  host: { type: "string" },
  port: { type: "string" },
  vin: { type: "string" },
  driven: { type: "string" },
  json: { type: "boolean" },
} as const;

const KINDS = ["vehicle", "meter", "scope"];

/** `rheonom stand-in vehicle|meter|scope`: a process of its own that answers a tester, or who asks an instrument; it ends with this process, or at "quit". */
export async function standInCommand(args: readonly string[], out: Output, err: Output, input: NodeJS.ReadableStream): Promise<number> {
  const [kind, ...rest] = args;
  if (kind === undefined || !KINDS.includes(kind))
    throw new UsageError(`There is no stand-in "${kind ?? ""}". There are: ${KINDS.join(", ")}.`);
  const v = valuesOf(rest);
  if (v.harness === undefined) throw new UsageError(`stand-in ${kind} needs --harness FILE.`);
  const harness = readCircuit(v.harness, v.options);
  const faults = truthsNamed(harness, v.fault ?? [], v.severity).map(({ fault, severity }) => fault.faultAt(severity));
  const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
  const passed = (["host", "port", "vin", "driven"] as const).flatMap((name) => (v[name] === undefined ? [] : [`--${name}`, v[name]]));
  const child = spawn(
    process.execPath,
    [
      "--import",
      here("../../../scripts/ts-hook.mjs"),
      here("../../stand-ins/src/main.ts"),
      "--kind",
      kind,
      ...passed,
      ...(v.json === true ? ["--json"] : []),
    ],
    { stdio: ["pipe", "pipe", "pipe"] },
  );
  child.stdout.on("data", (text: Buffer) => out.write(text.toString()));
  child.stderr.on("data", (text: Buffer) => err.write(text.toString()));
  // It may be gone before all of its input is.
  child.stdin.on("error", () => undefined);
  child.stdin.write(`${JSON.stringify({ harness, faults })}\n`);
  // It runs on when this input ends, as in the background; it goes down with this process, which holds its own input open.
  input.pipe(child.stdin, { end: false });
  return new Promise((done) =>
    child.on("close", (code) => {
      input.unpipe(child.stdin);
      input.pause();
      done(code ?? 1);
    }),
  );
}

function valuesOf(args: readonly string[]) {
  try {
    return parseArgs({ args: [...args], options: OPTIONS, strict: true }).values;
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
}
