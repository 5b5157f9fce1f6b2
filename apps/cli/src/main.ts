import { exportCommand } from "./export.ts";
import { readCommand } from "./read.ts";
import { solveCommand } from "./solve.ts";
import { sweepCommand } from "./sweep.ts";
import { UsageError, type Output } from "./usage.ts";

const HELP = `rheonom solve FILE.cir [--json] [--tran] [--out FILE.csv]
    Operating point of a SPICE file; with --tran its transient as CSV.
rheonom export FILE.circuit --spice [STATE] [--fault WORDS]...
    The circuit in a state as SPICE text.
rheonom read FILE.circuit --red PLACE --black PLACE [--quantity volts|ohms] [STATE] [--fault WORDS]... [--json]
rheonom read FILE.circuit --around LINK [STATE] [--fault WORDS]... [--json]
    What a meter or clamp shows.
rheonom sweep FILE.circuit [STATE] [--json]
    Every single fault of the circuit in a state, and where it shows.

STATE: --key off|accessory|run|crank  --engine stopped|cranking|idling|"at speed"  --on SW1,SW2  --opened F3,C12  --temperature 20
WORDS: "open W5"  "series C21.4 0.11"  "short to ground F3.2 0.2"  "short to feed FAN.1 1"   (resistances in ohms)
`;

/** Runs one command line. Returns the exit code: 0 done, 1 the circuit has no answer, 2 the command line or a file is wrong. */
export async function main(argv: readonly string[], out: Output, err: Output): Promise<number> {
  const [command, ...rest] = argv;
  try {
    switch (command) {
      case "solve":
        return solveCommand(rest, out, err);
      case "export":
        return exportCommand(rest, out);
      case "read":
        return readCommand(rest, out, err);
      case "sweep":
        return sweepCommand(rest, out);
      case undefined:
      case "help":
      case "--help":
        out.write(HELP);
        return 0;
      default:
        throw new UsageError(`There is no command "${command}".`);
    }
  } catch (error) {
    if (!(error instanceof UsageError)) throw error;
    err.write(`${error.message}\nrheonom --help lists the commands.\n`);
    return 2;
  }
}
