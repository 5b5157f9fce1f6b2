import { checkCommand } from "./check.ts";
import { diagnoseCommand } from "./diagnose.ts";
import { exportCommand } from "./export.ts";
import { findPinsCommand } from "./find-pins.ts";
import { importCommand } from "./import.ts";
import { practiseCommand } from "./practise.ts";
import { readCommand } from "./read.ts";
import { sharedCommand } from "./shared.ts";
import { solveCommand } from "./solve.ts";
import { standInCommand } from "./stand-in.ts";
import { sweepCommand } from "./sweep.ts";
import { verifyCommand } from "./verify.ts";
import { UsageError, type Output } from "./usage.ts";

const HELP = `rheonom solve FILE.cir [--json] [--tran] [--out FILE.csv]
    Operating point of a SPICE file; with --tran its transient as CSV.
rheonom export FILE.circuit --spice [STATE] [--fault WORDS]...
    The circuit in a state as SPICE text.
rheonom read FILE.circuit --red PLACE --black PLACE [--quantity volts|ohms] [STATE] [--fault WORDS]... [--json]
rheonom read FILE.circuit --around LINK [STATE] [--fault WORDS]... [--json]
    What a meter or clamp shows.
rheonom read FILE.circuit --instrument lamp5|lamp21|led|continuity|probe-feed|probe-ground --red PLACE [--black PLACE] ...
    What a test lamp, LED tester, beeper or current-limited powered probe (tip: --red) shows.
rheonom read FILE.circuit --scope SECONDS [--resolution SECONDS] [--probe 1|10] --red PLACE | --around LINK ...
    A trace as CSV, its measures with --json.
rheonom read FILE.circuit --look ...
    What a person sees and hears: lamps, motors, relays, modules awake or silent, fuses.
rheonom sweep FILE.circuit [STATE | --states all] [--json]
    Every single fault of the circuit in a state, or in every key and engine state, and where it shows.
rheonom diagnose CASE.json [--why NAME]... [--json]
    Suspects with what speaks for and against them, what to measure next, and whether it is enough to act; with --why also why something is, or is not, among them.
rheonom practise --auto --harness FILE (--fault ID [--severity N]... [--presence 0.3] | --all [--sample N]) [--options ...] [--seed N] [--json]
    A simulated technician who takes the first proposed test until there is enough to act; with --all over many faults, beside two rules of thumb.
rheonom practise --generate --harness FILE [--options ...] [--family WORDS] [--difficulty 0.4] [--seed N] [--misdrawn] [--json]
    A scenario to practise on, with what its customer says and what is really wrong; the same of the same.
rheonom practise --list | --check-all [--family WORDS] [--scenarios FILE.json] [--json]
    The scenarios that come with the app; --check-all makes each anew and lets the simulated technician play it, on all cores.
rheonom shared FILE.circuit --failing A,B [--working C,D] [--options ...] [--json]
    What parts that fail share, and parts that work do not.
rheonom find-pins "OFF ON TURNING" "OFF ON TURNING"... [--json]
    What stands behind a plug of two to five pins, from volts at each with the key off, the key on and the engine turning; t fluctuates, - not read.
rheonom stand-in vehicle --harness FILE [--options ...] [--fault ID [--severity N]]... [--host 127.0.0.1] [--port 13400] [--vin VIN] [--json]
    A simulated vehicle with a hidden fault that answers a tester by DoIP, UDS and the emissions services. It is worked by commands on its input, and runs on when that ends.
rheonom stand-in meter|scope --harness FILE [--options ...] [--fault ID [--severity N]]... [--host 127.0.0.1] [--port 5025] [--json]
    A meter or a scope on such a vehicle that answers SCPI over TCP. Its leads are put by lines on its input.
rheonom check [--quarantine]
    Looks through the data folder (RHEONOM_DATA) or the database of DATABASE_URL, with the server stopped: names the entries of all logs that cannot be read; sets them aside.
rheonom verify LOG.json
    Follows the chain of a job's log that was saved on the report screen, and names the first entry that is not as it was stored.
rheonom import FILE.csv... | FILE.circuit | FILE.json [--notation | --tables]
    Tables of a spreadsheet, or a circuit in another form, as a harness in JSON, as text or as tables; problems by file, row and column.

FILE.circuit may be a harness as FILE.json.
STATE: --key off|accessory|run|crank  --engine stopped|cranking|idling|"at speed"  --on SW1,SW2  --opened F3,C12  --temperature 20
       --options fridge,tow (what the vehicle has, in every command; all that the file knows when not said, none with "")
       --bridged P~Q  --lamp P~Q:21  --asleep ECM,BCM  --input ECT=80
WORDS: "open W5"  "series C21.4 0.11"  "short to ground F3.2 0.2"  "short to feed FAN.1 1"  "across C4.1a C4.2a 5"  (resistances in ohms)
       "stuck R7.contact closed"  "set BAT charge=0.2 wear=1"  (a value with blanks in quotes: mode="two words")
`;

/** Runs one command line. Returns the exit code: 0 done, 1 the circuit has no answer, 2 the command line or a file is wrong. */
export async function main(argv: readonly string[], out: Output, err: Output): Promise<number> {
  const [command, ...rest] = argv;
  try {
    switch (command) {
      case "solve":
        return solveCommand(rest, out, err);
      case "export":
        return exportCommand(rest, out, err);
      case "import":
        return importCommand(rest, out, err);
      case "read":
        return readCommand(rest, out, err);
      case "diagnose":
        return diagnoseCommand(rest, out);
      case "practise":
        return await practiseCommand(rest, out, err);
      case "find-pins":
        return findPinsCommand(rest, out);
      case "shared":
        return sharedCommand(rest, out);
      case "sweep":
        return sweepCommand(rest, out);
      case "verify":
        return await verifyCommand(rest, out);
      case "check":
        return await checkCommand(rest, out, err);
      case "stand-in":
        return await standInCommand(rest, out, err, process.stdin);
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
