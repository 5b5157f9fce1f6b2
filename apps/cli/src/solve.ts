import { writeFileSync } from "node:fs";
import { readSpice, type SpiceFile } from "@rheonom/core/circuit";
import { solve, type SolveFailure, transient } from "@rheonom/core/solver";
import { readFile, readOptions, UsageError, type Output } from "./usage.ts";

/** Steps of a transient between the start and the end when the file names no longest step. */
const LEAST_STEPS = 50;

/** `rheonom solve FILE.cir`: the operating point, or with --tran the course over time as CSV. */
export function solveCommand(args: readonly string[], out: Output, err: Output): number {
  const { file, values } = readOptions(args, { json: { type: "boolean" }, tran: { type: "boolean" }, out: { type: "string" } });
  const read = readSpice(readFile(file));
  if (read.kind === "problems") throw new UsageError(read.problems.map((p) => `${file}:${p.line} ${p.message}`).join("\n"));
  return values.tran === true ? course(read.file, file, values.out, out, err) : point(read.file, values.json === true, out, err);
}

/** Only what the file names: helpers of the reader (behind "#") stay inside. */
const isNamed = (name: string): boolean => !name.includes("#");

function point({ netlist }: SpiceFile, json: boolean, out: Output, err: Output): number {
  const result = solve(netlist);
  if (result.kind !== "solved") return failed(result, err);
  const nodes = Object.fromEntries(
    netlist.nodes.flatMap((n, i) => (i > 0 && result.floating[i] === 0 && isNamed(n) ? [[n, result.volts[i]!]] : [])),
  );
  const branches = Object.fromEntries(
    netlist.elements.flatMap((e, i) => (e.kind === "source" || e.kind === "inductor" ? [[e.id, result.amps[i]!]] : [])),
  );
  const floating = netlist.nodes.filter((n, i) => result.floating[i] === 1 && isNamed(n));
  if (floating.length > 0) err.write(`No path to node 0: ${floating.join(", ")}\n`);
  if (json) out.write(`${JSON.stringify({ nodes, branches }, null, 2)}\n`);
  else {
    for (const [name, v] of Object.entries(nodes)) out.write(`${name.padEnd(20)} ${v.toPrecision(9)} V\n`);
    for (const [name, i] of Object.entries(branches)) out.write(`${name.padEnd(20)} ${i.toPrecision(9)} A\n`);
  }
  return 0;
}

function course({ netlist, transient: wish }: SpiceFile, file: string, target: string | undefined, out: Output, err: Output): number {
  if (wish === undefined) throw new UsageError(`${file} has no .tran line. Add one, such as .tran 10u 10m`);
  const longestS = Math.min(wish.longestS ?? Infinity, (wish.stopS - wish.startS) / LEAST_STEPS);
  const result = transient(netlist, { stopS: wish.stopS, longestS, fromInitial: wish.fromInitial });
  const nodes = netlist.nodes.flatMap((n, i) => (i > 0 && isNamed(n) ? [i] : []));
  const branches = netlist.elements.flatMap((e, i) => (e.kind === "source" || e.kind === "inductor" ? [i] : []));
  const quoted = (name: string): string => (/[",]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);
  const heads = [
    "time_s",
    ...nodes.map((i) => `${quoted(netlist.nodes[i]!)}_V`),
    ...branches.map((i) => `${quoted(netlist.elements[i]!.id)}_A`),
  ];
  const lines = [heads.join(",")];
  result.timesS.forEach((t, row) => {
    if (t < wish.startS) return;
    lines.push(
      [t, ...nodes.map((i) => result.volts[row]![i]!), ...branches.map((i) => result.amps[row]![i]!)]
        .map((v) => Number(v.toPrecision(10)))
        .join(","),
    );
  });
  const text = `${lines.join("\n")}\n`;
  if (target === undefined) out.write(text);
  else writeFileSync(target, text);
  if (result.kind === "solved") return 0;
  err.write(`The course stops at ${result.atS} s. `);
  return result.why.kind === "too many steps"
    ? (err.write("It needs too many steps; is something switching without rest?\n"), 1)
    : failed(result.why, err);
}

function failed(why: SolveFailure, err: Output): number {
  switch (why.kind) {
    case "singular":
      err.write(`Nothing decides ${why.node}: it floats, or two ideal sources fight there.\n`);
      return 1;
    case "diverged":
      err.write(`No operating point was found; ${why.element} still moves.\n`);
      return 1;
    case "chatter":
      err.write(`No rest: ${why.elements.join(", ")} open and close without end.\n`);
      return 1;
  }
}
