import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Runs Debian's ngspice, the independent tool that the solver is compared with. `commands`: what stands in its control section. */
function run(text: string, commands: readonly string[]): string {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-ng-"));
  try {
    const file = join(folder, "circuit.cir");
    const control = [
      ".control",
      "set numdgt=12",
      "set width=200",
      "option reltol=1e-6 abstol=1e-14 vntol=1e-9 rshunt=1e12",
      ...commands,
      "quit",
      ".endc",
      ".end",
    ];
    writeFileSync(file, text.replace(/^\.(op|tran.*)$/gim, "").replace(/^\.end\s*$/im, control.join("\n")));
    return execFileSync("ngspice", ["-b", file], { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"], cwd: folder });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT")
      throw new Error("ngspice is not installed: apt-get install ngspice", { cause: error });
    throw error;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Operating point by ngspice: potentials by node and currents of sources and inductors, all names in lower case. */
export function ngspiceOp(text: string): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  for (const match of run(text, ["op", "print all"]).matchAll(/^(\S+) = (-?\d\.\d+e[+-]\d+)\s*$/gm)) {
    const name = match[1]!.toLowerCase();
    found.set(/^v\((.+)\)$/.exec(name)?.[1] ?? name, Number(match[2]));
  }
  if (found.size === 0) throw new Error(`ngspice gave no operating point for\n${text}`);
  return found;
}

/** A transient by ngspice: time and one vector such as "v(2)", row by row. */
export function ngspiceTran(text: string, tran: string, vector: string): (readonly [number, number])[] {
  const printed = run(text, [tran.replace(/^\./, ""), `print ${vector}`]);
  return [...printed.matchAll(/^\d+\s+(-?\d\.\d+e[+-]\d+)\s+(-?\d\.\d+e[+-]\d+)\s*$/gm)].map((m) => [Number(m[1]), Number(m[2])] as const);
}
